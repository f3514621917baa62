"use client";
/** One grant: who, may do what, on which records, with which fields. It reads as a sentence from top to bottom. */
import { useRouter } from "next/navigation";
import { type Dispatch, type ReactNode, type SetStateAction, useState, useTransition } from "react";
import { ACTIONS, type Action } from "@/core/access/rules";
import type { GroupDraft } from "@/core/filter/edit";
import { FilterEditor } from "@/office/filter/filter-editor";
import type { PathChoice } from "@/office/filter/paths";
import { answered } from "@/ui/answered";
import { type GrantInput, saveGrant } from "../actions";
import { FilterTrial, type Person } from "./filter-trial";
import { MissingRelation } from "./missing-relation";

interface Props {
  portal: string;
  back: string;
  grant: GrantInput;
  table: { id: string; name: string };
  /** No relation leads from the table to people or companies. */
  nowhere: boolean;
  people: Person[];
  locale: string;
  roles: { id: string; name: string; side: string }[];
  fields: { id: string; name: string; system: boolean; files: boolean }[];
  features: { id: string; name: string }[];
  acts: { id: string; name: string; on: "add" | "change" | "talk" | "accept" }[];
  paths: PathChoice[];
}

const ACTION_WORDS: Record<Action, string> = { see: "see", add: "add", change: "change", remove: "remove", export: "export" };
const SIDES: Record<string, string> = { client: "Client roles", agency: "Agency roles", visitor: "Visitors" };
const toggled = <T,>(list: readonly T[], x: T): T[] => (list.includes(x) ? list.filter((y) => y !== x) : [...list, x]);

/** One grant: for whom, which records, which fields, and what may be done with them. */
export function GrantEditor({ portal, back, grant, table, nowhere, people, locale, roles, fields, features, acts, paths }: Props) {
  const router = useRouter();
  const [g, setG] = useState(grant);
  const [problems, setProblems] = useState<Record<string, string>>({});
  const [messages, setMessages] = useState<string[]>([]);
  const [busy, start] = useTransition();
  const writes = g.actions.includes("add") || g.actions.includes("change") || acts.some((a) => a.on !== "talk" && g.acts.includes(a.id));
  const save = () =>
    start(async () => {
      const answer = await answered(saveGrant(portal, { ...g, changes: writes ? g.changes : [] }));
      if (!answer) return;
      if (answer.ok) return router.push(back);
      setMessages(answer.messages);
      setProblems(Object.fromEntries((("problems" in answer && answer.problems) || []).map((p) => [p.key, p.message])));
    });
  const box = (on: boolean, label: string, change: () => void, key: string, disabled = false) => (
    <label key={key} className="flex items-center gap-2">
      <input type="checkbox" className="checkbox checkbox-sm" checked={on} onChange={change} disabled={disabled} />
      {label}
    </label>
  );
  return (
    <div className="grid gap-6">
      {messages.length > 0 && (
        <div role="alert" className="alert alert-error">
          {messages.join(" ")}
        </div>
      )}
      <GrantRoles roles={roles} box={box} g={g} setG={setG} />
      <fieldset className="sheet flex flex-wrap items-center gap-x-5 gap-y-2 p-5">
        <legend className="title float-left mr-2 font-semibold">may</legend>
        {ACTIONS.map((a) => box(g.actions.includes(a), ACTION_WORDS[a], () => setG({ ...g, actions: toggled(g.actions, a) }), a))}
        <span className="title font-semibold">{table.name}</span>
        {acts.length > 0 && (
          <span className="flex w-full flex-wrap items-center gap-x-5 gap-y-2">
            <span className="quiet">and do</span>
            {acts.map((a) => box(g.acts.includes(a.id), `“${a.name}”`, () => setG({ ...g, acts: toggled(g.acts, a.id) }), a.id))}
          </span>
        )}
      </fieldset>
      <fieldset className="sheet grid gap-3 p-5">
        <legend className="title float-left font-semibold">where</legend>
        {nowhere && <MissingRelation portal={portal} table={table} />}
        <FilterEditor
          portal={portal}
          group={g.filter}
          paths={paths}
          problems={problems}
          onChange={(filter: GroupDraft) => setG({ ...g, filter })}
        />
        <FilterTrial portal={portal} table={table} filter={g.filter} people={people} locale={locale} />
      </fieldset>
      <GrantFields writes={writes} fields={fields} g={g} setG={setG} />
      <label className="sheet flex flex-wrap items-center gap-3 p-5">
        <span className="title font-semibold">while the company's plan includes</span>
        <select className="select min-w-48" value={g.feature ?? ""} onChange={(e) => setG({ ...g, feature: e.target.value || null })}>
          <option value="">anything, or nothing</option>
          {features.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      </label>
      <GrantDays g={g} setG={setG} />
      <div className="flex items-center gap-4">
        <button type="button" className="btn btn-primary" onClick={save} disabled={busy}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Keep in the draft
        </button>
        <a className="link-plain" href={back}>
          Cancel
        </a>
      </div>
    </div>
  );
}

interface GrantFieldsProps {
  readonly writes: boolean;
  readonly fields: { id: string; name: string; system: boolean; files: boolean }[];
  readonly g: GrantInput;
  readonly setG: Dispatch<SetStateAction<GrantInput>>;
}

/** Which fields are seen and changed by it. */
function GrantFields({ writes, fields, g, setG }: GrantFieldsProps) {
  return (
    <fieldset className="sheet p-5">
      <legend className="title float-left font-semibold">with these fields</legend>
      <table className="grid-table mt-9 max-w-xl">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">seen</th>
            {writes && <th scope="col">may be set</th>}
          </tr>
        </thead>
        <tbody>
          {fields.map((f) => (
            <tr key={f.id}>
              <td>{f.name}</td>
              <td>
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  aria-label={`${f.name} is seen`}
                  checked={g.fields.includes(f.id)}
                  onChange={() => setG({ ...g, fields: toggled(g.fields, f.id) })}
                />
                {f.files && g.fields.includes(f.id) && (
                  <label className="ml-3 inline-flex items-center gap-1.5 text-sm">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-xs"
                      checked={g.namesOnly.includes(f.id)}
                      onChange={() => setG({ ...g, namesOnly: toggled(g.namesOnly, f.id) })}
                    />
                    by name only
                  </label>
                )}
              </td>
              {writes && (
                <td>
                  {f.system ? (
                    <span className="quiet">by Elkhorn alone</span>
                  ) : (
                    <input
                      type="checkbox"
                      className="checkbox checkbox-sm"
                      aria-label={`${f.name} may be set`}
                      checked={g.changes.includes(f.id)}
                      onChange={() => setG({ ...g, changes: toggled(g.changes, f.id) })}
                    />
                  )}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <button
        type="button"
        className="link-plain mt-3 text-sm"
        onClick={() => setG({ ...g, fields: g.fields.length === fields.length ? [] : fields.map((f) => f.id) })}
      >
        {g.fields.length === fields.length ? "Hide all" : "Show all"}
      </button>
    </fieldset>
  );
}

interface GrantRolesProps {
  readonly roles: { id: string; name: string; side: string }[];
  readonly box: (on: boolean, label: string, change: () => void, key: string, disabled?: boolean) => ReactNode;
  readonly g: GrantInput;
  readonly setG: Dispatch<SetStateAction<GrantInput>>;
}

/** Whose grant it is. */
function GrantRoles({ roles, box, g, setG }: GrantRolesProps) {
  return (
    <fieldset className="sheet grid gap-3 p-5">
      <legend className="title float-left font-semibold">Who</legend>
      {Object.entries(SIDES).map(([side, words]) => (
        <div key={side} className="grid gap-x-4 gap-y-1 sm:grid-cols-[7rem_1fr]">
          <span className="quiet">{words}</span>
          <span className="flex flex-wrap gap-x-5 gap-y-2">
            {roles
              .filter((r) => r.side === side)
              .map((r) => box(g.roles.includes(r.id), r.name, () => setG({ ...g, roles: toggled(g.roles, r.id) }), r.id))}
          </span>
        </div>
      ))}
    </fieldset>
  );
}

/** From which day until which it holds. */
function GrantDays({ g, setG }: { g: GrantInput; setG: Dispatch<SetStateAction<GrantInput>> }) {
  return (
    <fieldset className="sheet flex flex-wrap items-center gap-3 p-5">
      <legend className="title float-left mr-2 font-semibold">and only</legend>
      {(["validFrom", "validUntil"] as const).map((k) => (
        <label key={k} className="flex items-center gap-2">
          {k === "validFrom" ? "from" : "until"}
          <input type="date" className="input w-44" value={g[k] ?? ""} onChange={(e) => setG({ ...g, [k]: e.target.value || null })} />
        </label>
      ))}
      <span className="quiet text-sm">Both days count, in the portal's time zone. Empty is always.</span>
    </fieldset>
  );
}
