import { richSchema } from "../text/rich";
import { readsNone, type SectionKind } from "./kind";

const config = { body: richSchema };

export const text: SectionKind<"text", typeof config> = {
  kind: "text",
  name: "Text",
  what: "Words of your own, with the reader's name or company in them.",
  config,
  reads: readsNone,
  asks: false,
  heads: true,
  problems: () => [],
};
