/** How the portal looks and speaks of itself. */
import { z } from "zod";
import type { Part } from "../part";

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, "Write the colour as #RRGGBB.");
/** A picture that is kept with the portal, by the hash of its bytes. */
const picture = z
  .string()
  .regex(/^[0-9a-f]{64}$/)
  .nullable();

export const FONTS = ["instrument", "bricolage", "literata", "figtree"] as const;
export const DENSITIES = ["close", "middle", "airy"] as const;
export const CORNERS = ["square", "soft", "round"] as const;
export const HEADS = ["band", "paper", "line"] as const;
export const SIGN_INS = ["plain", "side", "behind"] as const;

export const brandSchema = z.strictObject({
  colour,
  ground: colour,
  monogram: z
    .string()
    .min(1, "One to three letters stand where there is no logo.")
    .max(3, "One to three letters stand where there is no logo."),
  motto: z.string().max(120, "Keep the motto under 120 characters."),
  contact: z.string().max(120, "Keep the contact under 120 characters."),
  logo: picture,
  /** How the head of each page looks: filled with the colour, as paper, or with a line of the colour above it. */
  head: z.enum(HEADS),
  titles: z.enum(FONTS),
  text: z.enum(FONTS),
  density: z.enum(DENSITIES),
  corners: z.enum(CORNERS),
  signIn: z.strictObject({ kind: z.enum(SIGN_INS), picture, welcome: z.string().max(300, "Keep the welcome under 300 characters.") }),
  /** Words at the foot of every page. */
  footer: z.string().max(300, "Keep the words at the foot under 300 characters."),
});
export type BrandSettings = z.infer<typeof brandSchema>;

const shape = z.strictObject({ brand: brandSchema });

/** What a brand begins with beside its colours and words. */
export const PLAIN_BRAND = {
  logo: null,
  head: "band",
  titles: "bricolage",
  text: "instrument",
  density: "middle",
  corners: "soft",
  signIn: { kind: "plain", picture: null, welcome: "" },
  footer: "",
} as const satisfies Partial<BrandSettings>;

export const brandPart: Part<z.infer<typeof shape>> = {
  name: "brand",
  shape,
  migrations: [
    // 2: before it, colours and words were all there was.
    (old) => ({ brand: { ...PLAIN_BRAND, ...(old.brand as object) } }),
  ],
  problems: () => [],
};
