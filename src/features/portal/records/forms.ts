/** Forms of a portal. A form is accepted only from the person who opened it, acting for the same company. */
import type { FormField } from "@/core/forms/form-field";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import { newId } from "@/data/file/ids";
import { formFields } from "@/data/records/form";
import { etagOf } from "@/data/records/write/write";
import type { PortalRequest } from "@/identity/requests/request";
import { sayOf } from "../queries";

/** Who a form was opened as; it goes back with the form, so that what was written for one company is never stored for another. */
export const actingAs = (r: PortalRequest): string => r.viewer.membershipId ?? r.viewer.kind;

/** Why a form opened as somebody else, or before the session ended, is not taken. */
export function actingProblem(r: PortalRequest, openedAs: string): string | null {
  const now = actingAs(r);
  if (openedAs === now) return null;
  const say = sayOf(r);
  if (now === "visitor") return say("form.session-over");
  const company = r.viewer.company?.name;
  return company ? say("form.acts-for", { company }) : say("form.acts-for-another");
}

export function closedFor(r: PortalRequest): { closed?: string } {
  if (!r.seeAs) return {};
  const name = r.viewer.person?.name.split(" ")[0];
  return { closed: name ? sayOf(r)("form.seen-as", { person: name }) : sayOf(r)("form.seen-as-visitor") };
}

interface OpenedForm {
  /** Why it cannot be sent. */
  readonly closed?: string;
  readonly fields: FormField[];
  readonly hidden: Record<string, string>;
}

/** The form for a new record; null where the viewer may not add. Whoever looks as somebody else is shown it, and cannot send it. */
export function addingForm(r: PortalRequest, table: Table): OpenedForm | null {
  if (!r.desk.may(table, "add")) return null;
  const hidden = { $acting: actingAs(r), $table: table.slug, $filling: newId() };
  return { fields: formFields(r.desk, r.desk.settable(table, "add"), null), hidden, ...closedFor(r) };
}

/** The form for changing what the viewer may change of a record, with what it looked like; null where that is nothing. */
export function changingForm(r: PortalRequest, table: Table, id: string): (OpenedForm & { record: SeenRecord; seen: string }) | null {
  const record = r.desk.read(table, id);
  const fields = record ? r.desk.changeable(table, id).filter((f) => f.id in record.fields) : [];
  if (!record || fields.length === 0) return null;
  const hidden = { $acting: actingAs(r), $table: table.slug, $id: id };
  return { record, fields: formFields(r.desk, fields, record), hidden, seen: etagOf(record), ...closedFor(r) };
}
