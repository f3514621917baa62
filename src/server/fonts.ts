/** Where the fonts that ship stand in this build. A page asks for its two at once: fonts are "optional", and one that comes late is not used. */
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import type { FONTS } from "@/core/definition/parts/brand";
import { once } from "@/data/file/per-process";

export type Font = (typeof FONTS)[number];

const FILES: Readonly<Record<Font, string>> = {
  instrument: "instrument-sans-latin-wght-normal.",
  bricolage: "bricolage-grotesque-latin-wght-normal.",
  literata: "literata-latin-wght-normal.",
  figtree: "figtree-latin-wght-normal.",
};

const found = once("fonts of this build", (): readonly string[] => {
  const folder = join(
    /* turbopackIgnore: true */ process.cwd(),
    process.env.ELKHORN_BENCH === "1" ? ".next-bench" : ".next",
    "static/media",
  );
  return existsSync(folder) ? readdirSync(folder) : []; // while developing there is none
});

/** Addresses of the files of fonts. */
export const fontsAt = (fonts: readonly Font[]): string[] =>
  [...new Set(fonts)].flatMap((f) => {
    const file = found.find((x) => x.startsWith(FILES[f]));
    return file ? [`/_next/static/media/${file}`] : [];
  });
