/** What a form on a page asks of whoever opens it, and what it was filled with beforehand. */

import { doingOf } from "@/core/access/rules";
import type { FormField } from "@/core/forms/form-field";
import type { SectionOf } from "@/core/pages/page";
import { holdsFiles, isRelation } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import type { Field, Table } from "@/core/schema/types";
import type { Asked } from "@/core/sections/form";
import { newId } from "@/data/file/ids";
import { formFields, withValue } from "@/data/records/form";
import { automaticCompany } from "@/data/records/write/incoming";
import { etagOf } from "@/data/records/write/write";
import type { PortalRequest } from "@/identity/requests/request";
import { one, type Search, sayOf } from "../queries";
import { actingAs, addingForm, closedFor } from "./forms";

/** A field with what the page's owner said of it. */
export interface AskedField extends FormField {
  readonly width: 6 | 12;
  readonly step: number;
  readonly group?: string;
  readonly placeholder?: string;
  /** Shown only while something holds: the server is asked as things are filled in. */
  readonly conditional: boolean;
}

export interface AskedForm {
  readonly fields: AskedField[];
  readonly steps: readonly string[];
  /** "Step 1 of 3": as many as there are. */
  readonly stepWords: readonly string[];
  readonly hidden: Record<string, string>;
  readonly seen?: string;
  readonly closed?: string;
  /** Something in it follows from something else. */
  readonly alive: boolean;
  /** Under which what is typed is kept on this device until it is sent; null where nothing is. */
  readonly draft: string | null;
}

/** Fields that this form may set for this viewer, whatever its settings pick. */
export function settableIn(r: PortalRequest, s: SectionOf<"form">, record: SeenRecord | null): Field[] {
  const { does } = s.config;
  const table = r.desk.schema.table(s.config.table);
  if (does === "add") return r.desk.may(table, "add") ? r.desk.settable(table, "add") : [];
  if (does === "change") return record ? r.desk.changeable(table, record.id).filter((f) => f.id in record.fields) : [];
  const act = r.desk.acts(table).find((a) => a.id === does.act);
  if (!act) return [];
  const set = new Set(act.sets.map((x) => x.field));
  const listed = new Set(r.desk.scope(table, doingOf(act)).grants.flatMap((g) => g.grant.changes));
  const automatic = automaticCompany(r.desk.policy, r.viewer, table.id);
  return table.fields.filter((f) => listed.has(f.id) && !f.system && !set.has(f.id) && f.id !== automatic);
}

/** Whether the viewer may send it at all. */
export function maySend(r: PortalRequest, s: SectionOf<"form">, record: SeenRecord | null): boolean {
  const { does } = s.config;
  const table = r.desk.schema.table(s.config.table);
  if (does === "add") return r.desk.may(table, "add");
  if (does === "change") return settableIn(r, s, record).length > 0;
  const act = r.desk.acts(table).find((a) => a.id === does.act);
  return act !== undefined && (act.on === "add" || (record !== null && r.desk.whereMay(table, doingOf(act), [record.id]).has(record.id)));
}

const PLAIN = (f: Field): Asked => ({ field: f.id, width: 12, required: false, when: null, step: 1 });

/** What is asked, in order: what was picked, or all that may be set. */
export function askedOf(r: PortalRequest, s: SectionOf<"form">, record: SeenRecord | null): { field: Field; asked: Asked }[] {
  const settable = settableIn(r, s, record);
  const picked = s.config.fields;
  if (!picked) return settable.filter((f) => !f.options.offForms).map((field) => ({ field, asked: PLAIN(field) }));
  return picked.flatMap((asked) => {
    const field = settable.find((f) => f.id === asked.field);
    return field ? [{ field, asked }] : [];
  });
}

export function askedForm(r: PortalRequest, s: SectionOf<"form">, about: SeenRecord | null, search: Search): AskedForm | null {
  const { config } = s;
  if (!maySend(r, s, about)) return null;
  const asked = askedOf(r, s, about);
  const changes = config.does === "change" && about !== null;
  const before = changes
    ? new Map<string, string[]>()
    : prefilled(
        r,
        r.desk.schema.table(config.table),
        asked.map((x) => x.field),
        s,
        about,
        search,
      );
  const shown = new Map(
    formFields(
      r.desk,
      asked.map((x) => x.field),
      changes ? about : null,
    ).map((f) => [f.id, f]),
  );
  const fields = asked.flatMap(({ field, asked: a }): AskedField[] => {
    const f = shown.get(field.id);
    if (!f) return [];
    const hint = a.help || f.hint;
    const given = before.get(field.id);
    const filledIn = given ? withValue(r.desk, f, given) : f;
    return [
      {
        ...filledIn,
        ...(hint ? { hint } : {}),
        name: a.name || f.name,
        required: f.required || a.required,
        width: a.width,
        step: a.step,
        ...(a.group ? { group: a.group } : {}),
        ...(a.placeholder ? { placeholder: a.placeholder } : {}),
        conditional: a.when !== null,
      },
    ];
  });
  const page: Record<string, string> = about ? { $about: about.id } : {};
  return {
    fields,
    steps: config.steps,
    stepWords: stepsOf(r, config.steps, fields),
    hidden: { $acting: actingAs(r), $section: s.id, $filling: newId(), ...page },
    ...(changes ? { seen: etagOf(about) } : {}),
    ...closedFor(r),
    alive: config.fill.length > 0 || fields.some((f) => f.conditional),
    draft: r.seeAs || changes ? null : `${s.id} ${actingAs(r)}`,
  };
}

/** From the address by slugs, and from the page's record: only values that the field takes, and records that the viewer sees. */
function prefilled(
  r: PortalRequest,
  table: Table,
  fields: readonly Field[],
  s: SectionOf<"form"> | null,
  about: SeenRecord | null,
  search: Search,
): Map<string, string[]> {
  const found = new Map<string, string[]>();
  const page = s && about ? r.desk.schema.table(pageTable(r, s) ?? table.id) : null;
  for (const f of fields) {
    if (holdsFiles(f)) continue;
    const text = one(search[f.slug]).slice(0, 2_000);
    const id = page && isRelation(f) && f.options.target === page.id ? about!.id : text;
    if (id === "") continue;
    if (!isRelation(f) || r.desk.read(r.desk.schema.table(f.options.target), id)) found.set(f.id, [id]);
  }
  return found;
}

function pageTable(r: PortalRequest, s: SectionOf<"form">): string | null {
  const { definition, policy } = r.published;
  const page = definition.pages.find((p) => p.id === s.page);
  return page?.about && policy.schema.findTable(page.about) ? page.about : null;
}

/** The plain form of a table, without a page, with the values that its address brings along. */
export function plainForm(r: PortalRequest, table: Table, search: Search): ReturnType<typeof addingForm> {
  const form = addingForm(r, table);
  if (!form) return null;
  const before = prefilled(r, table, r.desk.settable(table, "add"), null, null, search);
  return { ...form, fields: form.fields.map((f) => (before.has(f.id) ? withValue(r.desk, f, before.get(f.id)!) : f)) };
}

function stepsOf(r: PortalRequest, named: readonly string[], fields: readonly AskedField[]): string[] {
  const all = Math.max(1, named.length, ...fields.map((f) => f.step));
  return Array.from({ length: all }, (_, i) => sayOf(r)("form.step", { n: i + 1, all }));
}
