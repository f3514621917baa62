"use server";
/** Shaping tables and fields by hand. Each action: the owner, what is meant, done or refused with a sentence. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { err, ok, type Result } from "@/core/result";
import type { Condition, Operand } from "@/core/schema/condition";
import { hasDecimals, isAutomatic, isCounted, isMadeFromAnother, isMoment, isMoney, pointsToOne } from "@/core/schema/fields/natures";
import { FIELD_TYPES, type Field, type FieldType, kindOf, single, TONES, type Value } from "@/core/schema/types";
import { changeChoices } from "@/data/schema/choices";
import { type Fill, fillAutomatic, fillField } from "@/data/schema/fill";
import {
  bringFieldBack,
  bringTableBack,
  type CameBack,
  putFieldAway,
  putTableAway,
  removeField,
  removeTable,
} from "@/data/schema/put-away";
import type { Trial } from "@/data/schema/retype-convert";
import { changeField, changeTable, type FieldGiven, moveField, newField, newTable } from "@/data/schema/shape";
import type { ShapeError } from "@/data/schema/shaping";
import { retypeTask, tryRetypeTask } from "@/data/schema/tasks";
import { turnRound } from "@/data/schema/turn";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { text, word, yes } from "@/identity/requests/takes";
import { officeAction, officeForm } from "@/office/action";
import type { FormState } from "@/ui/forms/form";
import type { SentForm } from "@/ui/forms/sent-form";

export type Answer<T = null> = { ok: true; value: T } | { ok: false; message: string };

const STALE = "Somebody changed this meanwhile. Load the page again; what you wrote is still here until then.";
const wordsOf = (e: ShapeError): string => (e.code === "stale" ? STALE : e.message);
const answer = <T>(r: Result<T, ShapeError>): Answer<T> => (r.ok ? { ok: true, value: r.value } : { ok: false, message: wordsOf(r.error) });
const refresh = (slug: string): void => revalidatePath(`/portals/${slug}`, "layout");
const textIn = (data: FormData, name: string): string => String(data.get(name) ?? "").slice(0, 2_000);

function refusedIn(form: SentForm, e: ShapeError): FormState {
  return e.code === "refused" && e.field ? form.failed({ [e.field]: e.message }) : form.failed({}, wordsOf(e));
}

export const makeTable = officeForm("build", [], (p, form) => {
  const done = newTable(p.file, p.owner, { name: form.text("name"), singular: form.text("singular"), like: form.text("like") || null });
  if (!done.ok) return refusedIn(form, done.error);
  refresh(p.slug);
  redirect(`${p.at}/data/${done.value}/shape`);
});

export const keepTable = officeForm("build", [word, text], (p, form, id, seen) => {
  const words = {
    name: form.text("name"),
    singular: form.text("singular"),
    about: form.text("about"),
    slug: form.text("slug"),
    label: form.text("label"),
  };
  const done = changeTable(p.file, p.owner, id, words, seen);
  if (!done.ok) return refusedIn(form, done.error);
  refresh(p.slug);
  redirect(`${p.at}/data/${id}/shape?kept=1`);
});

const KEPT_AS: Record<string, { type: FieldType; kept: "made-at" | "made-by" | "changed-at" | "changed-by" }> = {
  "made-at": { type: "date-time", kept: "made-at" },
  "made-by": { type: "relation", kept: "made-by" },
  "changed-at": { type: "date-time", kept: "changed-at" },
  "changed-by": { type: "relation", kept: "changed-by" },
};

export const makeField = officeForm("build", [word], (p, form, tableId) => {
  const asked = form.text("type");
  const kept = KEPT_AS[asked];
  const type = kept?.type ?? FIELD_TYPES.find((t) => t === asked);
  if (!type) return form.failed({ type: "Choose what it holds." });
  const choices = form
    .text("choices")
    .split("\n")
    .map((c) => c.trim())
    .filter(Boolean);
  const options = kept
    ? { kept: kept.kept, ...(pointsToOne(kept) ? { target: "t_people" } : {}) }
    : {
        ...(form.text("target") ? { target: form.text("target") } : {}),
        ...(type.startsWith("choice") ? { choices: [...new Set(choices)] } : {}),
        ...(isMoney({ type }) ? { currency: form.text("currency") || p.live.definition.portal.currency } : {}),
        ...(hasDecimals({ type }) ? { decimals: Number(form.text("decimals") || 0) } : {}),
        ...(isCounted({ type }) ? { prefix: form.text("prefix").slice(0, 20), perCompany: form.ticked("perCompany") } : {}),
        ...(isMadeFromAnother({ type }) ? { madeFrom: form.text("madeFrom") } : {}),
      };
  const done = newField(p.file, p.owner, tableId, { name: form.text("name"), type, options });
  if (!done.ok) return refusedIn(form, done.error);
  if (isAutomatic({ type })) fillAutomatic(p.file, p.owner, done.value);
  refresh(p.slug);
  return form.succeeded(`${form.text("name").trim()} is added.`);
});

/** Bounds and defaults as they were typed become what is stored; the field's own bounds do not bind them. */
function readAs(p: OfficePortal, field: Field, typed: string): Result<Value, string> {
  const { least: _, most: __, ...options } = field.options;
  const one = single({ ...field, options } as Field);
  return kindOf(one).parse([typed], one, { timeZone: p.live.definition.portal.timeZone });
}

function defaultOf(p: OfficePortal, field: Field, data: FormData): Result<Operand | undefined, string> {
  const kind = textIn(data, "default");
  const instant = isMoment(field) ? ({ instant: true } as const) : {};
  if (kind === "today") return ok({ kind: "date", anchor: "today", days: 0, ...instant });
  if (kind === "now") return ok({ kind: "date", anchor: "now", days: 0, instant: true });
  if (kind === "person") return ok({ kind: "viewer", of: "person", field: null });
  if (kind !== "value") return ok(undefined);
  const read = readAs(p, field, textIn(data, "defaultValue"));
  if (!read.ok) return read;
  return read.value === null
    ? err("Give the value, or choose “nothing”.")
    : ok({ kind: "literal", value: (kindOf(field).many ? [read.value] : read.value) as never });
}

export const keepField = officeForm("build", [word, text], (p, form, id, seen) => {
  const field = p.live.policy.schema.findField(id);
  if (!field) return form.failed({}, "This field is gone.");
  const errors: Record<string, string> = {};
  const own: Record<string, unknown> = {};
  for (const bound of ["least", "most"] as const) {
    const typed = form.text(bound).trim();
    if (typed === "") continue;
    const read = readAs(p, field, typed);
    if (read.ok) own[bound] = read.value;
    else errors[bound] = read.error;
  }
  for (const word of ["unit", "mask", "maskSays", "prefix"] as const)
    if (form.text(word).trim()) own[word] = form.text(word).trim().slice(0, 200);
  for (const count of ["longest", "digits"] as const) {
    const typed = form.text(count).trim();
    if (typed === "") continue;
    if (/^[1-9]\d{0,5}$/.test(typed)) own[count] = Number(typed);
    else errors[count] = "Write a whole number.";
  }
  if (form.ticked("plain")) own.plain = true;
  const fallback = defaultOf(p, field, form.data);
  if (!fallback.ok) errors.defaultValue = fallback.error;
  if (Object.keys(errors).length > 0) return form.failed(errors);
  const on = (name: string): boolean => form.data.get(name) === "on";
  const removal = ["refuse", "remove"].find((x) => x === form.text("onRemoval")) as "refuse" | "remove" | undefined;
  const given: FieldGiven = {
    name: form.text("name"),
    own,
    required: on("required"),
    unique: on("unique"),
    offForms: on("offForms"),
    offSearch: on("offSearch"),
    help: form.text("help").trim().slice(0, 300),
    ...(fallback.ok && fallback.value ? { default: fallback.value } : {}),
    ...(removal ? { onRemoval: removal } : {}),
  };
  const done = changeField(p.file, p.owner, id, given, seen);
  if (!done.ok) return refusedIn(form, done.error);
  refresh(p.slug);
  redirect(`${p.at}/data/${field.tableId}/shape/${id}?kept=1`);
});

const choicesGiven = z.object({
  choices: z.array(z.object({ id: z.string().nullable(), name: z.string().max(500), tone: z.enum(TONES).optional() })).max(500),
  instead: z.record(z.string(), z.string().nullable()),
});

export const keepChoices = officeAction("build", [word, text, choicesGiven], async (p, id, seen, given): Promise<Answer> => {
  const done = changeChoices(p.file, p.owner, id, given, seen);
  if (done.ok) refresh(p.slug);
  return answer(done);
});

const retypeAsk = z.object({
  field: z.string(),
  type: z.enum(FIELD_TYPES),
  options: z.object({
    target: z.string().optional(),
    currency: z.string().length(3).optional(),
    decimals: z.int().min(0).max(6).optional(),
  }),
  reading: z.object({ order: z.enum(["iso", "day-first", "month-first"]).optional(), mark: z.enum([".", ","]).optional() }),
  by: z.string().nullable(),
  add: z.boolean(),
  made: z.object({ name: z.string().max(200), seen: z.boolean() }).nullish(),
  rest: z.enum(["refuse", "empty", "keep"]),
});

/** With `really` it is done; else it is only tried. */
export const giveType = officeAction("build", [retypeAsk, yes], async (p, given, really): Promise<Answer<Trial>> => {
  const ask = { portal: p.file.slug, ...given } as Parameters<typeof retypeTask.do>[0];
  const done = await (really ? retypeTask : tryRetypeTask).do(ask, p.owner);
  p.file.meta.look();
  if (done.ok && really) refresh(p.slug);
  return answer(done);
});

const fillAsk = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("value"), text: z.string().max(2_000) }),
  z.object({ kind: z.literal("field"), from: z.string() }),
  z.object({ kind: z.literal("rule"), text: z.string().max(2_000), of: z.string(), is: z.string().max(2_000) }),
]);

export const fill = officeAction(
  "build",
  [word, z.unknown()],
  async (p, id, given): Promise<Answer<{ filled: number; unfit: readonly string[] }>> => {
    const parsed = fillAsk.safeParse(given);
    const field = p.live.policy.schema.findField(id);
    if (!parsed.success || !field) return { ok: false, message: "This field is gone. Load the page again." };
    const how = fillOf(p, field, parsed.data);
    if (!how.ok) return { ok: false, message: how.error };
    const done = fillField(p.file, p.owner, id, how.value);
    if (done.ok) refresh(p.slug);
    return answer(done);
  },
);

function fillOf(p: OfficePortal, field: Field, asked: z.infer<typeof fillAsk>): Result<Fill, string> {
  if (asked.kind === "field") return ok(asked);
  const value = kindOf(field).parse([asked.text], field, { timeZone: p.live.definition.portal.timeZone });
  if (!value.ok) return value;
  if (asked.kind === "value") return ok({ kind: "value", value: value.value });
  const of = p.live.policy.schema.findField(asked.of);
  if (!of || of.tableId !== field.tableId) return err("Choose a field of this table for the rule.");
  const one = single(of);
  const wanted = asked.is.trim() === "" ? ok(null) : kindOf(one).parse([asked.is], one);
  if (!wanted.ok) return wanted;
  const test = (operator: "is" | "has-any" | "is-empty", literal?: unknown): Condition =>
    ({ kind: "test", path: [of.id], operator, operands: literal === undefined ? [] : [{ kind: "literal", value: literal }] }) as Condition;
  if (wanted.value === null) return ok({ kind: "rule", when: test("is-empty"), value: value.value });
  const many = kindOf(of).many !== null;
  if (!kindOf(of).operators.includes(many ? "has-any" : "is"))
    return err(`${of.name} cannot be compared with one value. Choose another field.`);
  return ok({ kind: "rule", when: many ? test("has-any", [wanted.value]) : test("is", wanted.value), value: value.value });
}

/** What is said of rules that came back with a table or field; nothing where there were none. */
function backWords(back: CameBack | null): string {
  if (!back || (back.in === "none" && back.why.length === 0)) return "";
  if (back.in === "none") return `Its grants could not come back: ${back.why.join(" ")}`;
  const grants = back.grants === 1 ? "One grant" : `${back.grants} grants`;
  const stand = back.grants === 1 ? "stands" : "stand";
  return back.in === "live"
    ? `${grants} ${stand} as before.`
    : `${grants} ${stand} in the draft again. See the impact under Publish before anybody sees more.`;
}

export const actOnField = officeAction(
  "build",
  [word, z.enum(["up", "down", "away", "back", "remove"])],
  async (p, id, act): Promise<Answer<string>> => {
    const done = {
      up: () => moveField(p.file, p.owner, id, -1),
      down: () => moveField(p.file, p.owner, id, 1),
      away: () => putFieldAway(p.file, p.owner, id),
      back: () => bringFieldBack(p.file, p.owner, id),
      remove: () => removeField(p.file, p.owner, id),
    }[act]();
    if (done.ok) refresh(p.slug);
    return answer(done.ok ? ok(backWords(done.value)) : done);
  },
);

export const actOnTable = officeAction("build", [word, z.enum(["away", "back", "remove"])], async (p, id, act): Promise<Answer<string>> => {
  const done = { away: putTableAway, back: bringTableBack, remove: removeTable }[act](p.file, p.owner, id);
  if (done.ok) refresh(p.slug);
  return answer(done.ok ? ok(backWords(done.value)) : done);
});

export const turn = officeAction("build", [word, word], async (p, id, name): Promise<Answer<string>> => {
  const done = turnRound(p.file, p.owner, id, name.slice(0, 80));
  if (done.ok) refresh(p.slug);
  return answer(done);
});
