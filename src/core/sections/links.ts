/** Buttons that lead somewhere. */
import { z } from "zod";
import { addressTemplate } from "../text/template";
import { readsNone, ref, type SectionKind, words } from "./kind";

export const linkTarget = z.discriminatedUnion("to", [
  z.strictObject({ to: z.literal("page"), page: ref }),
  /** The form for a new record, prefilled where the page is about one that it can point to. */
  z.strictObject({ to: z.literal("form"), table: ref }),
  /** An address outside, whose parts may be fields of the page's record. */
  z.strictObject({ to: z.literal("address"), address: addressTemplate }),
]);
export type LinkTarget = z.infer<typeof linkTarget>;

const config = {
  look: z.enum(["buttons", "cards"]),
  items: z.array(z.strictObject({ id: ref, name: words(80), about: words(160).optional(), target: linkTarget })).max(24),
};

export const links: SectionKind<"links", typeof config> = {
  kind: "links",
  name: "Links",
  what: "Buttons to pages, forms and addresses.",
  config,
  reads: readsNone,
  asks: false,
  heads: false,
  problems: (c, { pages, schema }) =>
    c.items.flatMap((x) => {
      const gone = (x.target.to === "page" && !pages.has(x.target.page)) || (x.target.to === "form" && !schema.findTable(x.target.table));
      return gone ? [`${x.name} leads to something that is gone.`] : [];
    }),
};
