/** Fields of a form for one viewer: what may be set, with choices that the viewer sees. */
import { scope } from "@/core/access/scope";
import { minorDigits } from "@/core/exchange/cells";
import { isLink, isLinks, type SeenRecord } from "@/core/records";
import type { Field, Table } from "@/core/schema/types";
import { listRecords } from "@/data/records/query/read";
import type { PortalRequest } from "@/identity/request";
import type { FormField } from "@/ui/record-form";
import { labelOf } from "./queries";

const MOST_CHOICES = 500;

/** Fields that an add grant lets the viewer give; the company is filled in by the wall. */
export function addableFields(r: PortalRequest, table: Table): Field[] {
  const s = scope(r.published.policy, r.viewer, table.id, "add");
  return table.fields.filter((f) => !f.system && s.grants.some((g) => g.grant.changes.includes(f.id)));
}

export function formFields(r: PortalRequest, fields: readonly Field[], record: SeenRecord | null): FormField[] {
  return fields.map((f): FormField => {
    const base = { id: f.id, name: f.name, type: f.type, required: f.options.required ?? false, value: formValue(f, record) };
    if (f.type === "choice" || f.type === "choices")
      return { ...base, choices: (f.options.choices ?? []).map((c) => ({ value: c, label: c })) };
    if (f.type === "yes-no")
      return {
        ...base,
        choices: [
          { value: "yes", label: "Yes" },
          { value: "no", label: "No" },
        ],
      };
    if (!f.options.target) return f.type === "money" ? { ...base, hint: `In ${f.options.currency}.` } : base;
    const target = r.published.policy.schema.table(f.options.target);
    const records = listRecords(r.file, r.published.policy, r.viewer, target.id, {
      limit: MOST_CHOICES,
      only: new Set([target.labelFieldId]),
    }).records;
    return { ...base, choices: records.map((x) => ({ value: x.id, label: labelOf(target, x) })) };
  });
}

function formValue(f: Field, record: SeenRecord | null): string | string[] {
  const v = record?.fields[f.id];
  if (f.type === "relations" || f.type === "choices")
    return isLinks(v) ? v.flatMap((l) => ("id" in l ? [l.id] : [])) : Array.isArray(v) ? (v as string[]) : [];
  if (v === null || v === undefined) return "";
  if (isLink(v)) return "id" in v ? v.id : "";
  if (f.type === "money")
    return ((v as number) / 10 ** minorDigits(f.options.currency ?? "GBP")).toFixed(minorDigits(f.options.currency ?? "GBP"));
  return f.type === "yes-no" ? (v ? "yes" : "no") : String(v);
}

/** Who a form was opened as; it goes back with the form, so that what was written for one company is never stored for another. */
export const actingAs = (r: PortalRequest): string => r.viewer.membershipId ?? r.viewer.kind;

/** Why a form opened as somebody else, or before the session ended, is not taken. */
export function actingProblem(r: PortalRequest, openedAs: string): string | null {
  const now = actingAs(r);
  if (openedAs === now) return null;
  if (now === "visitor")
    return "You are no longer signed in here: your session or your place in the company has ended. What you wrote is kept; sign in in another window, then send it again.";
  const here = r.viewer.company?.name;
  return `You act ${here ? `for ${here}` : "for another company"} now, but this form was opened as somebody else. What you wrote is kept; change back, then send it again.`;
}
