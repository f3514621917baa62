"use client";
/** The menu: as it stands by itself, or in an order and under names of one's own, with groups and addresses outside. */
import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useState } from "react";
import type { Navigation } from "@/core/pages/page";
import { type DraftChain, useDraftChain } from "@/office/ui/use-draft-chain";
import { addEntry, beginMenu, clearMenu, dropEntry, keepEntry, shiftEntry } from "../actions";

interface Props {
  portal: string;
  revision: number;
  entries: readonly Navigation[];
  pages: readonly { id: string; name: string }[];
  byItself: readonly string[];
}

export function MenuForm({ portal, revision, entries, pages, byItself }: Props) {
  const { busy, run } = useDraftChain(revision);
  const groups = entries.filter((e) => e.leads.to === "group");
  const top = entries.filter((e) => e.group === null);
  return (
    <section aria-labelledby="menu" className="grid max-w-3xl gap-3" aria-busy={busy}>
      <h2 id="menu">Menu</h2>
      {entries.length === 0 ? (
        <>
          <p className="quiet">
            By itself it has every page, in the order of the tables: {byItself.join(", ")}. Each reader is shown those that hold something
            for them.
          </p>
          <button type="button" className="btn btn-sm justify-self-start" disabled={busy} onClick={() => run((r) => beginMenu(portal, r))}>
            Order it yourself
          </button>
        </>
      ) : (
        <>
          <ul className="sheet divide-y divide-base-300/60">
            {top
              .flatMap((e) => [e, ...entries.filter((x) => x.group === e.id)])
              .map((e) => (
                <Entry key={e.id} e={e} portal={portal} groups={groups} pages={pages} run={run} />
              ))}
          </ul>
          <AddEntry pages={pages} busy={busy} onAdd={(x) => run((r) => addEntry(portal, r, x))} />
          <button
            type="button"
            className="link-plain min-h-6 justify-self-start text-sm"
            disabled={busy}
            onClick={() => run((r) => clearMenu(portal, r))}
          >
            Back to the menu as it stands by itself
          </button>
        </>
      )}
    </section>
  );
}

interface EntryProps extends Pick<Props, "portal" | "pages"> {
  e: Navigation;
  groups: readonly Navigation[];
  run: DraftChain["run"];
}

function Entry({ e, portal, groups, pages, run }: EntryProps) {
  const { leads } = e;
  const where =
    leads.to === "page"
      ? (pages.find((p) => p.id === leads.page)?.name ?? "a page that is gone")
      : leads.to === "address"
        ? leads.address
        : "group";
  const rename = (name: string): void => run((r) => keepEntry(portal, r, { ...e, name }));
  return (
    <li className={`flex flex-wrap items-center gap-2 px-3 py-2 ${e.group ? "pl-9" : ""}`}>
      <input
        // Undone, or changed by somebody else, the name that stands there is the one of the draft.
        key={e.name}
        className="input input-sm w-44"
        aria-label={`Name in the menu of ${where}`}
        defaultValue={e.name}
        maxLength={60}
        onBlur={(x) => x.target.value !== e.name && rename(x.target.value)}
      />
      <span className="quiet min-w-0 grow truncate text-sm">{where}</span>
      {leads.to !== "group" && groups.length > 0 && (
        <select
          className="select select-sm w-auto"
          aria-label={`Group of ${e.name}`}
          value={e.group ?? ""}
          onChange={(x) => run((r) => keepEntry(portal, r, { ...e, group: x.target.value || null }))}
        >
          <option value="">at the top</option>
          {groups.map((g) => (
            <option key={g.id} value={g.id}>
              in {g.name}
            </option>
          ))}
        </select>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={`${e.name} up`}
        onClick={() => run((r) => shiftEntry(portal, r, e.id, -1))}
      >
        <ArrowUp size={13} aria-hidden />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={`${e.name} down`}
        onClick={() => run((r) => shiftEntry(portal, r, e.id, 1))}
      >
        <ArrowDown size={13} aria-hidden />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={`Take ${e.name} off the menu`}
        onClick={() => run((r) => dropEntry(portal, r, e.id))}
      >
        <X size={13} aria-hidden />
      </button>
    </li>
  );
}

function AddEntry({
  pages,
  busy,
  onAdd,
}: {
  pages: Props["pages"];
  busy: boolean;
  onAdd: (x: { name: string; page?: string; address?: string; group?: true }) => void;
}) {
  const [name, setName] = useState("");
  const [to, setTo] = useState("group");
  const [address, setAddress] = useState("https://");
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        const called = name.trim() || (pages.find((p) => p.id === to)?.name ?? "");
        onAdd({ name: called, ...(to === "group" ? { group: true as const } : to === "address" ? { address } : { page: to }) });
        setName("");
      }}
    >
      <label className="grid gap-1 text-sm font-medium">
        Name
        <input className="input input-sm" value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
      </label>
      <label className="grid gap-1 text-sm font-medium">
        Leads to
        <select className="select select-sm" value={to} onChange={(e) => setTo(e.target.value)}>
          <option value="group">nothing: a group</option>
          <option value="address">an address outside</option>
          {pages.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      {to === "address" && (
        <label className="grid gap-1 text-sm font-medium">
          Address
          <input className="input input-sm" value={address} onChange={(e) => setAddress(e.target.value)} />
        </label>
      )}
      <button type="submit" className="btn btn-sm" disabled={busy}>
        Add to the menu
      </button>
    </form>
  );
}
