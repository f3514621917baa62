/** From two colours of a brand to all that a portal's pages need, each pair readable. Values are CSS custom properties. */
import { contrast, inkOn, readableOn } from "./contrast";

export interface Brand {
  readonly colour: string;
  readonly ground: string;
}

export function brandTheme(b: Brand): Record<string, string> {
  const ink = contrast("#1c2226", b.ground) >= 7 ? "#1c2226" : inkOn(b.ground);
  const dark = inkOn(b.ground) === "#ffffff";
  const card = dark ? mix(b.ground, "#ffffff", 0.06) : mix(b.ground, "#ffffff", 0.75);
  const text = readableOn(readableOn(b.colour, b.ground), card);
  return {
    "--color-base-100": card,
    "--color-base-200": b.ground,
    "--color-base-300": mix(b.ground, ink, 0.15),
    "--color-base-content": ink,
    "--color-primary": text,
    "--color-primary-content": inkOn(text),
    "--color-accent": text,
    "--color-accent-content": inkOn(text),
    "--brand": b.colour,
    "--brand-ink": inkOn(b.colour),
  };
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
