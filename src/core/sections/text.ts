/** Words and pictures, with values of the reader, of their company and of the page's record. */
import type { z } from "zod";
import { richSchema } from "../pages/rich";
import type { SectionKind } from "./kind";

const config = { body: richSchema };
export type TextConfig = z.infer<z.ZodObject<typeof config>>;

export const text: SectionKind<"text", typeof config> = {
  kind: "text",
  name: "Text",
  what: "Words of your own, with the reader's name or company in them.",
  config,
  problems: () => [],
};
