/** All kinds of section. A kind is a file here, a folder in `features/portal/sections`, and a line in each registry. */
import type { z } from "zod";
import { chart } from "./chart";
import { figures } from "./figures";
import { form } from "./form";
import type { Reads, SectionKind } from "./kind";
import { links } from "./links";
import { list } from "./list";
import { related } from "./related";
import { sheet } from "./sheet";
import { conversation, door, history, notice, search, standing, welcome } from "./small";
import { text } from "./text";

export const SECTION_KINDS = {
  welcome,
  list,
  sheet,
  related,
  form,
  figures,
  chart,
  text,
  links,
  conversation,
  history,
  door,
  standing,
  search,
  notice,
} as const;
export type Kind = keyof typeof SECTION_KINDS;
export const KINDS = Object.keys(SECTION_KINDS) as [Kind, ...Kind[]];

/** What its kind says of a section's table. */
export const readsOf = (s: { readonly kind: Kind; readonly config: unknown }): Reads | null =>
  (SECTION_KINDS[s.kind].reads as (config: unknown) => Reads | null)(s.config);

type ConfigOf<K> = K extends SectionKind<string, infer C> ? z.infer<z.ZodObject<C>> : never;
export type Configs = { [K in Kind]: ConfigOf<(typeof SECTION_KINDS)[K]> };
