/** A form on a page: for a new record, or for changing the page's. What it asks, in which order, and what comes after it. */
import { z } from "zod";
import { conditionProblems } from "../access/sound";
import { fillSchema } from "../forms/fill";
import { fillProblems } from "../forms/fill-problems";
import { conditionSchema } from "../schema/condition";
import { addressTemplate } from "../text/template";
import { fieldsGone, ref, type SectionKind, words } from "./kind";

export const askedSchema = z.strictObject({
  field: ref,
  name: words(80).optional(),
  help: words(300).optional(),
  placeholder: words(80).optional(),
  /** In twelfths of the form's width. */
  width: z.union([z.literal(6), z.literal(12)]),
  required: z.boolean(),
  /** Asked for only while this holds of what is filled in. */
  when: conditionSchema.nullable(),
  /** The step it belongs to, from 1, and the heading before it. */
  step: z.int().min(1).max(12),
  group: words(60).optional(),
});
export type Asked = z.infer<typeof askedSchema>;

const config = {
  table: ref,
  /** `add` and `change` need the action of that name; an act its own grant, and sets what it sets whatever is sent. */
  does: z.union([z.literal("add"), z.literal("change"), z.strictObject({ act: ref })]),
  /** All that may be set where none are picked. */
  fields: z.array(askedSchema).max(120).nullable(),
  /** Names of the steps; one step where there are none. */
  steps: z.array(words(60)).max(12),
  fill: z.array(fillSchema).max(60),
  submit: words(40),
  after: z.discriminatedUnion("goes", [
    z.strictObject({ goes: z.literal("record") }),
    z.strictObject({ goes: z.literal("list") }),
    z.strictObject({ goes: z.literal("again"), words: words(300) }),
    z.strictObject({ goes: z.literal("page"), page: ref }),
    z.strictObject({ goes: z.literal("address"), address: addressTemplate }),
  ]),
};

export const form: SectionKind<"form", typeof config> = {
  kind: "form",
  name: "Form",
  what: "For a new record, or for changing the one the page is about.",
  config,
  reads: (c) => ({ table: c.table, doing: c.does === "add" ? "add" : "see", standsFor: true }),
  asks: false,
  heads: false,
  problems(c, around) {
    const table = around.schema.findTable(c.table);
    if (!table) return ["Its table is gone."];
    const act = typeof c.does === "object" ? around.acts.get(c.does.act) : undefined;
    return [
      ...fieldsGone(
        (c.fields ?? []).map((x) => x.field),
        table,
      ),
      ...(c.fields ?? []).flatMap((x) => conditionProblems(x.when, table.id, around.schema)),
      ...fillProblems(c.fill, table, around.schema),
      ...(typeof c.does === "object" && (act?.table !== table.id || act.on === "talk" || act.on === "accept")
        ? ["The act that it does is gone."]
        : []),
      ...(c.does === "change" && around.about?.id !== table.id ? ["It changes a record, so it stands on a page about one."] : []),
      ...(c.after.goes === "page" && !around.pages.has(c.after.page) ? ["The page that comes after it is gone."] : []),
    ];
  },
};
