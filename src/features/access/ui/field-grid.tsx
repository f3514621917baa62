"use client";
/** Every field of a table against every grant on it: what is seen, and what may be set, picked in one place. */
import { useRouter } from "next/navigation";
import { type ReactNode, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { saveFields } from "../fields";

export interface GrantColumn {
  readonly id: string;
  readonly roles: string;
  /** What it opens, in words: "see and add, where Status is not Closed". */
  readonly words: string;
  readonly writes: boolean;
  readonly fields: readonly string[];
  readonly changes: readonly string[];
}

interface Props {
  portal: string;
  back: string;
  revision: number;
  table: string;
  /** Address of this grid; a field's own page is below it. */
  at: string;
  fields: readonly { id: string; slug: string; name: string; system: boolean }[];
  grants: readonly GrantColumn[];
}

type Kind = "fields" | "changes";

/** Every field of a table by every grant: seen, changed or neither, changed with one press each. */
export function FieldGrid({ portal, back, at, revision, table, fields, grants: given }: Props) {
  const router = useRouter();
  const [grants, setGrants] = useState(given);
  const [message, setMessage] = useState("");
  const [busy, start] = useTransition();
  const toggle = (grant: string, kind: Kind, ids: readonly string[], on: boolean): void =>
    setGrants(
      grants.map((g) =>
        g.id === grant ? { ...g, [kind]: on ? [...new Set([...g[kind], ...ids])] : g[kind].filter((x) => !ids.includes(x)) } : g,
      ),
    );
  const everywhere = (field: string, on: boolean): void =>
    setGrants(grants.map((g) => ({ ...g, fields: on ? [...new Set([...g.fields, field])] : g.fields.filter((x) => x !== field) })));
  const save = () =>
    start(async () => {
      const lists = grants.map(({ id, fields, changes }) => ({ id, fields: [...fields], changes: [...changes] }));
      const answer = await answered(saveFields(portal, { revision, table, grants: lists }));
      if (!answer) return;
      if (!answer.ok) return setMessage(answer.messages.join(" "));
      toast("The fields are in the draft.");
      router.push(back);
    });
  const box = (label: string, on: boolean, change: (on: boolean) => void) => (
    <input type="checkbox" className="checkbox checkbox-sm" aria-label={label} checked={on} onChange={(e) => change(e.target.checked)} />
  );
  return (
    <div className="grid gap-4 [&>*]:min-w-0">
      {message && (
        <div role="alert" className="alert alert-error">
          {message}
        </div>
      )}

      <FieldTable grants={grants} fields={fields} at={at} everywhere={everywhere} box={box} toggle={toggle} />
      <div className="flex items-center gap-4">
        <button type="button" className="btn btn-primary" onClick={save} disabled={busy}>
          Keep in the draft
        </button>
        <a className="link-plain" href={back}>
          Cancel
        </a>
      </div>
    </div>
  );
}

interface FieldTableProps {
  readonly grants: readonly GrantColumn[];
  readonly fields: readonly { id: string; slug: string; name: string; system: boolean }[];
  readonly at: string;
  readonly everywhere: (field: string, on: boolean) => void;
  readonly box: (label: string, on: boolean, change: (on: boolean) => void) => ReactNode;
  readonly toggle: (grant: string, kind: Kind, ids: readonly string[], on: boolean) => void;
}

/** Fields by grants. */
function FieldTable({ grants, fields, at, everywhere, box, toggle }: FieldTableProps) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard (WCAG 2.1.1)
    <section tabIndex={0} aria-label="Fields and grants" className="sheet max-h-[70vh] overflow-auto">
      <table className="sights">
        <thead>
          <tr>
            <th scope="col">Field</th>
            {grants.map((g) => (
              <th key={g.id} scope="col" className="max-w-56 min-w-36 whitespace-normal!">
                {g.roles}
                <span className="quiet block text-[0.8rem] leading-snug font-normal">{g.words}</span>
                <span className="mt-1 flex gap-4 text-[0.8rem] font-normal">
                  <span className="w-9">seen</span>
                  {g.writes && <span>may be set</span>}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {fields.map((f) => {
            const all = grants.every((g) => g.fields.includes(f.id));
            return (
              <tr key={f.id}>
                <th scope="row">
                  <span className="flex items-baseline justify-between gap-2 py-1.5">
                    <a
                      className="truncate font-medium hover:underline"
                      href={`${at}/${f.slug}`}
                      target="_blank"
                      title={`Who sees ${f.name}, in another window: ticks here are kept`}
                      rel="noopener"
                    >
                      {f.name}
                    </a>
                    <button type="button" className="link-plain shrink-0 text-[0.8rem]" onClick={() => everywhere(f.id, !all)}>
                      {all ? "hide" : "show"}
                      <span className="sr-only"> {f.name} in every grant</span>
                    </button>
                  </span>
                </th>
                {grants.map((g) => (
                  <td key={g.id} className="px-3 py-1.5">
                    <span className="flex items-center gap-4">
                      <span className="flex w-9">
                        {box(`${f.name} is seen by ${g.roles}, ${g.words}`, g.fields.includes(f.id), (on) =>
                          toggle(g.id, "fields", [f.id], on),
                        )}
                      </span>
                      {g.writes &&
                        (f.system ? (
                          <span className="quiet text-[0.8rem]">by Elkhorn</span>
                        ) : (
                          box(`${f.name} may be set by ${g.roles}, ${g.words}`, g.changes.includes(f.id), (on) =>
                            toggle(g.id, "changes", [f.id], on),
                          )
                        ))}
                    </span>
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
