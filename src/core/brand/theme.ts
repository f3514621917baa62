/** From a brand to all that a portal's pages need, each pair of colours readable. Values are CSS custom properties. */
import { contrast, inkOn, luminance, readableOn } from "./contrast";

export interface Brand {
  readonly colour: string;
  readonly ground: string;
  readonly titles?: Font;
  readonly text?: Font;
  readonly density?: "close" | "middle" | "airy";
  readonly corners?: "square" | "soft" | "round";
  readonly head?: "band" | "paper" | "line";
}
type Font = "instrument" | "bricolage" | "literata" | "figtree";

/** Shipped with Elkhorn; a browser fetches those that a page uses. */
const FONTS: Record<Font, string> = {
  instrument: '"Instrument Sans Variable", system-ui, sans-serif',
  bricolage: '"Bricolage Grotesque Variable", system-ui, sans-serif',
  literata: '"Literata Variable", Georgia, serif',
  figtree: '"Figtree Variable", system-ui, sans-serif',
};
/** The unit of every distance, in rem. */
const SPACING = { close: "0.215rem", middle: "0.25rem", airy: "0.28rem" } as const;
const CORNERS = { square: ["0px", "0px"], soft: ["0.625rem", "0.375rem"], round: ["1.25rem", "1rem"] } as const;

/** CSS custom properties of a brand, by name; every pair of colours reads by WCAG 2.2 (1.4.3). */
export function brandTheme(b: Brand): Record<string, string> {
  const ink = contrast("#1c2226", b.ground) >= 7 ? "#1c2226" : inkOn(b.ground);
  const card = cardOn(b.ground, ink);
  const text = readableOn(b.colour, [b.ground, card]);
  const [box, field] = CORNERS[b.corners ?? "soft"];
  const head = { band: [b.colour, inkOn(b.colour)], paper: [card, ink], line: [b.ground, ink] }[b.head ?? "band"] as [string, string];
  return {
    "--color-base-100": card,
    "--color-base-200": b.ground,
    "--color-base-300": mix(b.ground, ink, 0.15),
    "--color-base-content": ink,
    "--muted": readableOn(mix(ink, b.ground, 0.28), [b.ground, card]),
    "--color-primary": text,
    "--color-primary-content": inkOn(text),
    "--color-accent": text,
    "--color-accent-content": inkOn(text),
    "--brand": b.colour,
    "--brand-ink": inkOn(b.colour),
    "--head": head[0],
    "--head-ink": head[1],
    "--font-title": FONTS[b.titles ?? "bricolage"],
    "--font-sans": FONTS[b.text ?? "instrument"],
    "--spacing": SPACING[b.density ?? "middle"],
    "--radius-box": box,
    "--radius-field": field,
    "--radius-selector": field,
    fontFamily: "var(--font-sans)",
    colorScheme: schemeOf(b),
  };
}

/** What a browser draws itself, such as scrollbars and the icons of date fields, goes by the ground. */
export const schemeOf = ({ ground }: Pick<Brand, "ground">): "light" | "dark" =>
  contrast("#000000", ground) >= contrast("#ffffff", ground) ? "light" : "dark";

/** Lifted off the ground, as far as words on it stay readable; sunk into it where lifting would not let them. */
function cardOn(ground: string, ink: string): string {
  if (luminance(ink) < luminance(ground)) return mix(ground, "#ffffff", 0.75);
  const lifted = mix(ground, "#ffffff", 0.06);
  return contrast(ink, lifted) >= READABLE ? lifted : mix(ground, "#000000", 0.3);
}
const READABLE = 4.5;

/** Pairs that are read on a portal's pages, with their contrast (WCAG 2.2, 1.4.3 wants 4.5 of running text). */
export function readablePairs(b: Brand): { readonly words: string; readonly ratio: number }[] {
  const t = brandTheme(b);
  const of = (a: string, ground: string): number => contrast(t[a]!, t[ground]!);
  return [
    { words: "Words in the head", ratio: of("--head-ink", "--head") },
    { words: "Words on the ground", ratio: of("--color-base-content", "--color-base-200") },
    { words: "Words on cards", ratio: of("--color-base-content", "--color-base-100") },
    { words: "Muted words on the ground", ratio: of("--muted", "--color-base-200") },
    { words: "Muted words on cards", ratio: of("--muted", "--color-base-100") },
    { words: "Links on the ground", ratio: of("--color-primary", "--color-base-200") },
    { words: "Words on buttons", ratio: of("--color-primary-content", "--color-primary") },
  ];
}

const channel = (hex: string, i: number): number => Number.parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16);
const mix = (a: string, b: string, share: number): string =>
  `#${[0, 1, 2]
    .map((i) =>
      Math.round(channel(a, i) + (channel(b, i) - channel(a, i)) * share)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
