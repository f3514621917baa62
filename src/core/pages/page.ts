/**
 * Pages as an owner lays them out: plain data, a part of the definition. Sections stand flat beside the pages, each with its page and a
 * place in order, so that two people may work on two sections of one page.
 */
import { z } from "zod";
import { conditionSchema } from "../schema/condition";
import { type Configs, KINDS, type Kind, SECTION_KINDS } from "../sections";
import { ref, words } from "../sections/kind";

/** Lower case words between hyphens; the home page's is empty. */
export const addressSchema = z
  .string()
  .regex(/^([a-z0-9]+(-[a-z0-9]+)*)?$/, "Write the address in small letters, digits and hyphens.")
  .max(60);
/** A key of fractional-indexing: between any two there is another. */
export const placeSchema = z.string().regex(/^[A-Za-z0-9]{1,60}$/);

/** An origin (RFC 6454): scheme, host and port. Over https, or this machine's own name for trying. */
export const originSchema = z
  .string()
  .max(200)
  .regex(
    /^(https:\/\/[a-z0-9.-]+(:\d{1,5})?|http:\/\/([a-z0-9-]+\.)*localhost(:\d{1,5})?)$/,
    "Write a site as https://www.example.com, without a path.",
  );

export const READER_STATES = ["out", "in", "waiting", "unpaid"] as const;
export type ReaderState = (typeof READER_STATES)[number];

/** For whom. All that is said must hold; where nothing is said it is for everybody. */
export const audienceSchema = z.strictObject({
  /** Any of these; anybody where none is named. */
  states: z.array(z.enum(READER_STATES)).max(4),
  /** Holders of any of these roles, those that include one among them. */
  roles: z.array(ref).max(60),
  /** Only those whose plan has this feature see the page; null for everybody. */
  feature: ref.nullable(),
});
export type Audience = z.infer<typeof audienceSchema>;
export const EVERYBODY: Audience = { states: [], roles: [], feature: null };

export const pageSchema = z.strictObject({
  id: ref,
  name: z.string().trim().min(1, "Give the page a name.").max(80, "Keep the name under 80 characters."),
  address: addressSchema,
  /** The table of which it shows one record; null of a page about nothing in particular. */
  about: ref.nullable(),
  audience: audienceSchema,
  /** A light extra beside the audience, kept as a hash: see `identity/requests/passphrase`. */
  passphrase: z.string().max(200).nullable(),
});
export type Page = z.infer<typeof pageSchema>;

const sectionBase = {
  id: ref,
  page: ref,
  place: placeSchema,
  title: words(120),
  /** In twelfths of the page's width. */
  width: z.int().min(1).max(12),
  /** Begins a row of its own, though the one before has room. */
  breaks: z.boolean(),
  audience: audienceSchema,
  /** Holds of the page's record. */
  record: conditionSchema.nullable(),
  /** Holds of who reads, as one of People. */
  reader: conditionSchema.nullable(),
};
export type Section = { [K in Kind]: z.infer<z.ZodObject<typeof sectionBase>> & { kind: K; config: Configs[K] } }[Kind];
export type SectionOf<K extends Kind> = Extract<Section, { kind: K }>;

const [first, ...others] = KINDS.map((kind) =>
  z.strictObject({ ...sectionBase, kind: z.literal(kind), config: z.strictObject(SECTION_KINDS[kind].config as z.ZodRawShape) }),
);
export const sectionSchema = z.discriminatedUnion("kind", [first!, ...others]) as unknown as z.ZodType<Section>;

export const navigationSchema = z.strictObject({
  id: ref,
  place: placeSchema,
  /** Under this group; at the top where null. */
  group: ref.nullable(),
  name: words(60),
  audience: audienceSchema,
  leads: z.discriminatedUnion("to", [
    z.strictObject({ to: z.literal("page"), page: ref }),
    z.strictObject({
      to: z.literal("address"),
      address: z
        .string()
        .max(500)
        .regex(/^https:\/\/[^\s]+$/, "Write a whole address, from https:// on."),
    }),
    z.strictObject({ to: z.literal("group") }),
  ]),
});
export type Navigation = z.infer<typeof navigationSchema>;

export interface Pages {
  /** Those that an owner made or changed. The ready-made ones follow from the grants: `ready.ts`. */
  readonly pages: readonly Page[];
  readonly sections: readonly Section[];
  /** Empty: every page that stands for itself, in the tables' order. */
  readonly navigation: readonly Navigation[];
  /** Ready-made pages that were thrown away. */
  readonly thrown: readonly { readonly id: string }[];
  readonly frames: readonly string[];
  /** Where a role lands after signing in. */
  readonly landing: Readonly<Record<string, { readonly page: string }>>;
}
export const NO_PAGES: Pages = { pages: [], sections: [], navigation: [], thrown: [], frames: [], landing: {} };

/** By their places, in a list of its own; equal places by id, so that the order is always the same. */
export const inOrder = <T extends { readonly place: string; readonly id: string }>(of: readonly T[]): T[] =>
  of.toSorted((a, b) => (a.place < b.place ? -1 : a.place > b.place ? 1 : a.id < b.id ? -1 : 1));
