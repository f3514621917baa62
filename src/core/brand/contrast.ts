/** Text stays readable on whatever colour a brand has: WCAG 2.2, relative luminance and contrast ratio (success criterion 1.4.3). */

type Rgb = readonly [number, number, number];

const parse = (hex: string): Rgb => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16)) as unknown as Rgb;
const format = (rgb: Rgb): string => `#${rgb.map((c) => Math.round(c).toString(16).padStart(2, "0")).join("")}`;

/** 0 for black, 1 for white. `hex` is `#RRGGBB`. */
export function luminance(hex: string): number {
  const [r, g, b] = parse(hex).map((c) => {
    const s = c / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  }) as unknown as Rgb;
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** From 1 to 21. */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** Near-black or white, whichever reads better on the colour; one of them always reaches 4.5. */
export const inkOn = (colour: string): string => (contrast(colour, "#ffffff") >= contrast(colour, "#000000") ? "#ffffff" : "#000000");

/**
 * The colour itself, darkened or lightened as little as it takes to reach `ratio` on all of these. Of a middling ground one way may fail
 * where the other does not, so both are tried at each step.
 */
export function readableOn(colour: string, grounds: readonly string[], ratio = 4.5): string {
  const from = parse(colour);
  for (let step = 0; step <= 50; step++)
    for (const towards of [0, 255]) {
      const mixed = format(from.map((c) => c + (towards - c) * (step / 50)) as unknown as Rgb);
      if (grounds.every((ground) => contrast(mixed, ground) >= ratio)) return mixed;
    }
  return inkOn(grounds[0]!);
}
