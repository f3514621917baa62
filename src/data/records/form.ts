/** Forms over records: what a viewer's form shows, and what comes back from it. The same in the portal and in the back office. */

import type { FormField } from "@/core/forms/form-field";
import { isRelation } from "@/core/schema/fields/natures";
import type { Offered } from "@/core/schema/offered";
import { isFiles, isLink, isLinks, type Link, linkWords, type SeenRecord, type SeenValue } from "@/core/schema/seen";
import { type Field, kindOf, type Table, type Value } from "@/core/schema/types";
import { namedRecords } from "./choose";
import type { Desk } from "./desk";
import { type Demand, demandedFields, type WriteError } from "./write/incoming";

/** Fields as a form shows them, with what may stand there and what stands there now. */
export function formFields(d: Desk, fields: readonly Field[], record: SeenRecord | null): FormField[] {
  const [first] = fields;
  const demanded = first ? demandedFields(d.policy, d.viewer, first.tableId, record ? "change" : "add") : new Map<string, Demand>();
  return fields
    .filter((f) => !f.options.offForms)
    .map((f): FormField => {
      const kind = kindOf(f);
      const v = record?.fields[f.id];
      const choices = offered(f, v);
      const why = demanded.get(f.id);
      const says = why === "wall" ? `It says whose this ${d.schema.table(f.tableId).singular.toLowerCase()} is.` : null;
      const hint = [f.options.help, says, kind.hint?.(f)].filter(Boolean).join(" ");
      return {
        id: f.id,
        name: f.name,
        type: f.type,
        required: (f.options.required ?? false) || why !== undefined,
        many: kind.many !== null,
        value: v === null || v === undefined ? [] : kind.texts(v, f, d.viewer.timeZone),
        ...(choices ? { choices } : {}),
        ...(isRelation(f) ? relationNow(v) : {}),
        ...(hint ? { hint } : {}),
      };
    });
}

/** What a field's value is chosen from, where that is known beforehand: its own choices, or the files that it holds. */
function offered(f: Field, v: SeenValue | undefined): readonly Offered[] | undefined {
  if (isFiles(v)) return v.map((r) => ({ value: r.id, label: r.name }));
  return kindOf(f).offers?.(f);
}

function relationNow(v: SeenValue | undefined): Pick<FormField, "chosen" | "withheld"> {
  const links: readonly Link[] = isLinks(v) ? v : isLink(v) ? [v] : [];
  const chosen = links.flatMap((l) => ("id" in l ? [{ value: l.id, label: linkWords(l) }] : []));
  return { chosen, ...(chosen.length < links.length ? { withheld: true } : {}) };
}

/** The field as if it held these values: for what an address or a page fills in beforehand. */
export function withValue(d: Desk, f: FormField, value: readonly string[]): FormField {
  const target = d.schema.findField(f.id)?.options.target;
  return { ...f, value, ...(target ? { chosen: namedRecords(d, d.schema.table(target), value) } : {}) };
}

export interface Read {
  readonly values: Record<string, Value>;
  readonly errors: Record<string, string>;
}

/** Values by field id of a form that names its inputs so; fields that the viewer may not name are not there to be named. */
export function readForm(d: Desk, table: Table, data: FormData): Read {
  const values: Record<string, Value> = {};
  const errors: Record<string, string> = {};
  for (const f of d.nameable(table)) {
    if (!data.has(f.id)) continue;
    const read = kindOf(f).parse(data.getAll(f.id).map(String), f, { timeZone: d.viewer.timeZone });
    if (read.ok) values[f.id] = read.value;
    else errors[f.id] = read.error;
  }
  return { values, errors };
}

/** A refused write in words: beside the fields that it speaks of, or for the form as a whole. */
export function refusalWords(e: WriteError): { fields: Record<string, string>; message?: string } {
  switch (e.code) {
    case "invalid":
      return { fields: Object.fromEntries(e.errors.map((x) => [x.field, x.message])) };
    case "stale":
      return {
        fields: {},
        message:
          "Somebody changed this record while you were writing. What you wrote is kept here; open the record in another window, compare, and save again from a fresh form.",
      };
    case "plan-needed":
      return { fields: {}, message: "This is not part of your company's plan." };
    case "used-up":
      return { fields: {}, message: usedUpWords(e) };
    case "not-found":
      return { fields: {}, message: "This record is gone. Load the page again." };
    case "not-allowed":
      return { fields: {}, message: "Your roles do not allow this as it stands." };
  }
}

/** Which limit of the plan is used up, with the ways on: wait, or change the plan. */
export const usedUpWords = (e: { readonly plan: string; readonly limit: number; readonly again: string }): string =>
  `Your plan ${e.plan} has ${e.limit} of these a month, and ${e.limit === 1 ? "it is" : "all are"} used. You can add more from ${e.again} on, or with another plan.`;
