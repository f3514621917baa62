/** The page's record, field by field. */
import { z } from "zod";
import { fieldsGone, readsNone, ref, type SectionKind, words } from "./kind";

const config = {
  /** In their order, under their own names; a group's name stands before the first of its fields. All where none are picked. */
  fields: z
    .array(z.strictObject({ field: ref, name: words(60).optional(), group: words(60).optional() }))
    .max(120)
    .nullable(),
  columns: z.int().min(1).max(3),
  labels: z.enum(["beside", "above"]),
  empty: z.enum(["shown", "hidden"]),
  /** A field is changed where it stands, if a grant opens that. */
  inPlace: z.boolean(),
  /** Buttons above it. */
  acts: z.array(ref).max(12),
  /** The way to the form that changes it, and to taking it away. */
  changes: z.boolean(),
  removes: z.boolean(),
};
export type SheetConfig = z.infer<z.ZodObject<typeof config>>;

export const PLAIN_SHEET: SheetConfig = {
  fields: null,
  columns: 1,
  labels: "beside",
  empty: "shown",
  inPlace: false,
  acts: [],
  changes: true,
  removes: false,
};

export const sheet: SectionKind<"sheet", typeof config> = {
  kind: "sheet",
  name: "Sheet",
  what: "The fields of the record that the page is about.",
  config,
  reads: readsNone,
  asks: false,
  heads: true,
  ofRecord: true,
  problems: (c, { about, acts }) =>
    about
      ? [
          ...fieldsGone(
            (c.fields ?? []).map((x) => x.field),
            about,
          ),
          ...(c.acts.some((a) => acts.get(a)?.table !== about.id || !["change", "accept"].includes(acts.get(a)?.on ?? ""))
            ? ["One of its buttons is an act that is gone."]
            : []),
        ]
      : [],
};
