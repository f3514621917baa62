"use server";
/** Forms on pages. What is sent is read by the section's settings, so a request cannot set a field that the form does not ask for. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { fits } from "@/core/pages/audience";
import type { SectionOf } from "@/core/pages/page";
import { isRelation } from "@/core/schema/fields/natures";
import type { Offered } from "@/core/schema/offered";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, isEmpty, kindOf, type Table } from "@/core/schema/types";
import { addressFrom } from "@/core/text/template";
import { namedRecords } from "@/data/records/choose";
import { readForm } from "@/data/records/form";
import type { Given, WriteError } from "@/data/records/write/incoming";
import { addOnce } from "@/data/records/write/sent-once";
import { saidPassphrase, sayPassphrase } from "@/identity/requests/passphrase";
import type { PortalRequest } from "@/identity/requests/request";
import { portalCall, portalForm } from "@/office/portal-action";
import type { FormState } from "@/ui/forms/form";
import type { SentForm } from "@/ui/forms/sent-form";
import { strangerProblem } from "../door/strangers";
import { allPagesFor, listHref, readerFor, recordHref, shownSections } from "../pages-for";
import { localeOf, sayOf } from "../queries";
import { askedOf, maySend, settableIn } from "./asked";
import { workOut } from "./filling";
import { actingProblem } from "./forms";
import { refusedIn } from "./used-up";

interface Opened {
  readonly section: SectionOf<"form">;
  readonly table: Table;
  readonly about: SeenRecord | null;
}

/** The form as it stands on a page for this reader; null where it does not. */
async function opened(r: PortalRequest, data: { section: string; about: string }): Promise<Opened | null> {
  const book = allPagesFor(r);
  for (const page of book.pages) {
    const there = book.sections(page.id).find((s) => s.id === data.section);
    if (!there) continue;
    const of = page.about ? r.desk.schema.findTable(page.about) : undefined;
    const record = of && data.about ? r.desk.read(of, data.about) : undefined;
    if (!fits(page.audience, readerFor(r)) || (page.about && !record) || !(await saidPassphrase(r, page))) return null;
    const shown = shownSections(r, page, of && record ? { table: of, record } : null).find((s) => s.id === there.id);
    return shown?.kind === "form" ? { section: shown, table: r.desk.schema.table(shown.config.table), about: record ?? null } : null;
  }
  return null;
}

/** Values of the fields that the form asks for. Whatever else was sent is ignored. */
function read(r: PortalRequest, { table, section, about }: Opened, data: FormData) {
  const asked = askedOf(r, section, about);
  const only = new FormData();
  for (const { field } of asked) for (const v of data.getAll(field.id)) only.append(field.id, v);
  const { values, errors } = readForm(r.desk, table, only);
  const settable = settableIn(r, section, about);
  const stands = section.config.does === "change" && about ? plainOf(about, settable) : {};
  const worked = workOut(r, section, { ...stands, ...values }, settable, new Set(Object.keys(values).filter((f) => !isEmpty(values[f]!))));
  return { asked, values, errors, worked, settable };
}

const plainOf = (record: SeenRecord, fields: readonly Field[]): Given =>
  Object.fromEntries(
    fields.flatMap((f) => {
      const v = record.fields[f.id];
      return v !== undefined && (v === null || typeof v !== "object") ? [[f.id, v]] : [];
    }),
  );

export const sendForm = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const other = actingProblem(r, form.text("$acting"));
  if (other) return form.failed({}, other);
  const stands = await opened(r, { section: form.text("$section"), about: form.text("$about") });
  if (!stands || !maySend(r, stands.section, stands.about)) return form.failed({}, say("form.not-allowed"));
  const stranger = r.viewer.kind === "visitor" ? await strangerProblem(r, form.data) : null;
  if (stranger === "") return form.succeeded(say("form.sent")); // the trap: whoever fills it in is told what they want to hear
  if (stranger) return form.failed({}, stranger);
  const { asked, values, errors, worked, settable } = read(r, stands, form.data);
  for (const { field, asked: a } of asked) {
    const shown = !worked.hidden.has(field.id);
    if (!shown) delete errors[field.id];
    else if (a.required && isEmpty(worked.values[field.id] ?? null) && !errors[field.id])
      errors[field.id] = say("form.required", { field: a.name || field.name });
  }
  if (Object.keys(errors).length > 0) return form.failed(errors);
  const given = sentValues(values, worked, settable, stands);
  const done = store(r, stands, given, form.text("$filling"), form.text("$seen"));
  if (!done.ok) {
    const { fields, message } = refusedIn(r, done.error);
    const denied = done.error.code === "not-allowed" || done.error.code === "not-found";
    return form.failed(fields, denied ? say("form.not-allowed") : message);
  }
  revalidatePath("/", "layout");
  return after(r, stands, done.value.id, form);
});

/** What was asked and is shown, and what rules filled in; the rest is not sent on. */
function sentValues(values: Given, worked: ReturnType<typeof workOut>, settable: readonly Field[], form: Opened): Given {
  const filledIn = new Set(form.section.config.fill.map((x) => x.field));
  const given: Record<string, Given[string]> = {};
  for (const f of settable) {
    if (worked.hidden.has(f.id)) continue;
    if (f.id in values || (filledIn.has(f.id) && worked.values[f.id] !== undefined))
      given[f.id] = worked.values[f.id] ?? (kindOf(f).many ? [] : null);
  }
  return given;
}

function store(r: PortalRequest, { section, table, about }: Opened, given: Given, filling: string, seen: string) {
  const { does } = section.config;
  if (does === "change") {
    const done = r.desk.change(table, about!.id, given, seen || null);
    return done.ok ? { ok: true as const, value: { id: about!.id } } : done;
  }
  const act = typeof does === "object" ? r.desk.acts(table).find((a) => a.id === does.act) : undefined;
  if (typeof does === "object" && !act) return { ok: false as const, error: { code: "not-found" } as WriteError };
  if (act?.on === "change") return r.desk.act(act, about?.id ?? "", given);
  return addOnce(r.desk, filling, () => (act ? r.desk.act(act, null, given) : r.desk.add(table, given)));
}

function after(r: PortalRequest, { section, table, about }: Opened, id: string, form: SentForm): FormState {
  const then = section.config.after;
  const say = sayOf(r);
  const sheet = (): string | undefined => (r.desk.read(table, id) ? recordHref(r)(table.id, id) : undefined);
  const to = ((): string | null | undefined => {
    switch (then.goes) {
      case "record":
        return sheet() && `${sheet()}?${section.config.does === "change" ? "saved" : "added"}=1`;
      case "list":
        return r.desk.may(table, "see") ? listHref(r, table.id) : undefined;
      case "again":
        return undefined;
      case "page": {
        const page = allPagesFor(r).page(then.page);
        return page && page.about === null && fits(page.audience, readerFor(r)) ? `${r.base}/${page.address}` : undefined;
      }
      case "address": {
        const record = r.desk.read(table, id) ?? about;
        return addressFrom(then.address, (f) => {
          const field = table.fields.find((x) => x.id === f);
          const v = field && record?.fields[f];
          return field && v !== null && v !== undefined && typeof v !== "object" ? kindOf(field).words(v, field, localeOf(r)) : "";
        });
      }
    }
  })();
  if (to) redirect(to);
  return form.succeeded(then.goes === "again" && then.words ? then.words : say("form.sent"));
}

const working = z.object({
  section: z.string().max(100),
  about: z.string().max(100),
  values: z.array(z.tuple([z.string().max(64), z.string().max(20_000)])).max(600),
  touched: z.array(z.string().max(64)).max(200),
});

interface FilledIn {
  readonly id: string;
  readonly texts: string[];
  /** For a relation: the records that the texts name. */
  readonly chosen?: readonly Offered[];
}

/** While somebody types: which fields are asked for now, and what rules fill in, as the fields' own texts. */
export const workOutForm = portalCall([working], async (r, input): Promise<{ hidden: string[]; filled: FilledIn[] } | null> => {
  const form = await opened(r, input);
  if (!form || !maySend(r, form.section, form.about)) return null;
  const data = new FormData();
  for (const [name, value] of input.values) data.append(name, value);
  const asked = askedOf(r, form.section, form.about);
  const { values } = readForm(r.desk, form.table, data);
  const settable = settableIn(r, form.section, form.about);
  const worked = workOut(r, form.section, values, settable, new Set(input.touched));
  const ruled = new Set(form.section.config.fill.map((x) => x.field));
  const texts = (f: Field): string[] => {
    const v = worked.values[f.id];
    return v === null || v === undefined ? [] : kindOf(f).texts(v as never, f, r.viewer.timeZone);
  };
  return {
    hidden: [...worked.hidden],
    filled: asked
      .filter(({ field }) => ruled.has(field.id))
      .map(({ field: f }) => ({
        id: f.id,
        texts: texts(f),
        ...(isRelation(f) ? { chosen: namedRecords(r.desk, r.desk.schema.table(f.options.target), texts(f)) } : {}),
      })),
  };
});

/** The words that open a page. Wrong or not, they say nothing of what stands on it. */
export const openPage = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const page = allPagesFor(r).page(form.text("page"));
  if (!page || !fits(page.audience, readerFor(r))) return form.failed({ secret: say("passphrase.wrong") });
  const said = await sayPassphrase(r, page, form.text("secret", 500));
  if (!said.ok)
    return form.failed({
      secret: said.wait > 0 ? say("door.too-many", { seconds: Math.ceil(said.wait / 1000) }) : say("passphrase.wrong"),
    });
  revalidatePath("/", "layout");
  return form.succeeded("");
});
