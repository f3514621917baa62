/** One record under one question: may this person do that with it, or with one field of it, why, and who else may. */

import type { Action } from "@/core/access/rules";
import type { Field, Table } from "@/core/schema/types";
import { list } from "@/core/text/list";
import { explainRecord, whoMay } from "@/data/records/query/explain";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { everyone, type Someone } from "@/identity/viewers/crowd";
import { namesOf } from "@/office/names";
import { lookedAt, sentences } from "./queries";

/** What can be done with a record that is there. */
export const TO = ["see", "change", "remove", "export"] as const satisfies readonly Action[];
export type To = (typeof TO)[number];

export interface RecordAsked {
  readonly as?: string;
  readonly to?: string;
  readonly field?: string;
  readonly of?: string;
}

export interface FieldLine {
  readonly field: Field;
  readonly open: boolean;
  /** Which lines of the explanation decide it, in words. */
  readonly why: string;
}

export const asOf = (s: Someone): string => (s.personId ? `${s.personId} ${s.membershipId ?? ""}`.trim() : "visitor");

export function recordView(p: OfficePortal, table: Table, id: string, asked: RecordAsked) {
  const { which, policy, definition } = lookedAt(p, asked.of);
  const to: To = TO.find((a) => a === asked.to) ?? "see";
  const field = table.fields.find((f) => f.slug === asked.field) ?? null;
  const people = everyone(p.file, definition, p.owner, p.now);
  const may = (of: readonly Someone[], action: To, f: Field | null): Someone[] =>
    whoMay({ file: p.file, policy, viewer: p.owner }, of, table.id, id, { action, field: f?.id ?? null });
  const who = may(people, to, field);
  const looked = people.find((s) => asOf(s) === asked.as) ?? who[0] ?? people[0]!;
  const one = explainRecord({ file: p.file, policy, viewer: p.owner }, looked.viewer, table.id, id, to);
  if (!one) return null;
  const e = one.explanation;
  const lineOf = new Map(e.steps.flatMap((s, i) => (s.step === "grant" ? [[s.grant, i + 1] as const] : [])));
  const matching = e.steps.flatMap((s, i) => (s.step === "grant" && s.holds ? [i + 1] : []));
  // A download takes only what is seen as well.
  const seen =
    to === "export" ? explainRecord({ file: p.file, policy, viewer: p.owner }, looked.viewer, table.id, id)!.explanation.fields : null;
  const fields = table.fields.map((f): FieldLine => {
    const by = (e.by[f.id] ?? []).map((g) => lineOf.get(g)!);
    const open = e.fields.includes(f.id);
    const none =
      matching.length === 1 ? `line ${matching[0]} does not list it` : `none of the lines ${list(matching.map(String), "and")} lists it`;
    return {
      field: f,
      open,
      why: open
        ? by.length > 0
          ? `by line ${list(by.map(String), "and")}`
          : ""
        : e.outcome === "refused"
          ? ""
          : seen && !seen.includes(f.id)
            ? "they do not see it"
            : none,
    };
  });
  return {
    which,
    to,
    field,
    people,
    who,
    sees: new Set(who.map(asOf)),
    looked,
    label: one.label,
    owner: one.companyId ? namesOf(p).company(one.companyId) : null,
    allowed: e.outcome === "allowed",
    outcomes: TO.map((a) => ({ to: a, open: may([looked], a, null).length > 0 })),
    lines: sentences(p, e, policy),
    fields,
  };
}
export type RecordView = NonNullable<ReturnType<typeof recordView>>;
