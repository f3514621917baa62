"use client";
import type { Dispatch, ReactNode, SetStateAction } from "react";
import { LOOKS } from "@/core/brand/looks";
import { type BrandSettings, CORNERS, DENSITIES, FONTS, HEADS } from "@/core/definition/parts/brand";
import { Colour, Labelled, Part } from "./brand-parts";

interface FormatsPartProps {
  readonly portal: PortalWords;
  readonly setPortal: Dispatch<SetStateAction<PortalWords>>;
  readonly zones: readonly string[];
}

/** Language, time zone and formats. */
export function FormatsPart({ portal, setPortal, zones }: FormatsPartProps) {
  return (
    <Part title="Language and formats">
      <Labelled label="Dates, numbers and money as in">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full"
            value={portal.locale}
            onChange={(e) => setPortal({ ...portal, locale: e.target.value })}
          >
            {[...new Set([portal.locale, ...LOCALES])].map((l) => (
              <option key={l} value={l}>
                {new Intl.DisplayNames("en", { type: "language" }).of(l)}
              </option>
            ))}
          </select>
        )}
      </Labelled>
      <Labelled label="Time zone">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full"
            value={portal.timeZone}
            onChange={(e) => setPortal({ ...portal, timeZone: e.target.value })}
          >
            {[...new Set([portal.timeZone, ...zones])].map((z) => (
              <option key={z}>{z}</option>
            ))}
          </select>
        )}
      </Labelled>
    </Part>
  );
}

/** Looks to begin with. */
export function LooksPart({ brand, put }: { brand: BrandSettings; put: (more: Partial<BrandSettings>) => void }) {
  return (
    <Part title="Looks to begin with">
      <div className="grid grid-cols-2 gap-2">
        {LOOKS.map((l) => (
          <button
            key={l.id}
            type="button"
            title={l.about}
            aria-pressed={Object.entries(l.settings).every(([k, v]) => brand[k as keyof BrandSettings] === v)}
            className="sheet grid gap-1.5 p-2.5 text-left aria-pressed:border-primary aria-pressed:outline-1 aria-pressed:outline-primary"
            onClick={() => put(l.settings)}
          >
            <span aria-hidden className="flex h-6 overflow-hidden rounded-sm border border-base-300">
              <span className="grow" style={{ background: l.settings.colour }} />
              <span className="grow-[2]" style={{ background: l.settings.ground }} />
            </span>
            <span className="text-sm font-medium">{l.name}</span>
          </button>
        ))}
      </div>
    </Part>
  );
}

/** Colours. */
export function ColoursPart({ brand, put }: { brand: BrandSettings; put: (more: Partial<BrandSettings>) => void }) {
  return (
    <Part title="Colours">
      <div className="grid grid-cols-2 gap-3">
        <Colour label="Brand" value={brand.colour} onChange={(colour) => put({ colour })} />
        <Colour label="Ground" value={brand.ground} onChange={(ground) => put({ ground })} />
      </div>
    </Part>
  );
}

interface ShapePartProps {
  readonly choice: <T extends string>(
    label: string,
    value: T,
    options: readonly T[],
    said: Record<T, string>,
    set: (v: T) => void,
  ) => ReactNode;
  readonly brand: BrandSettings;
  readonly put: (more: Partial<BrandSettings>) => void;
}

/** Head and corners. */
export function ShapePart({ choice, brand, put }: ShapePartProps) {
  return (
    <Part title="Shape">
      <div className="grid grid-cols-2 gap-3">
        {choice("Head of the page", brand.head, HEADS, HEAD_WORDS, (head) => put({ head }))}
        {choice("Corners", brand.corners, CORNERS, CORNER_WORDS, (corners) => put({ corners }))}
        {choice("Titles", brand.titles, FONTS, FONT_WORDS, (titles) => put({ titles }))}
        {choice("Text", brand.text, FONTS, FONT_WORDS, (text) => put({ text }))}
        {choice("Room", brand.density, DENSITIES, DENSITY_WORDS, (density) => put({ density }))}
      </div>
    </Part>
  );
}

export interface PortalWords {
  name: string;
  locale: string;
  timeZone: string;
}

export const FONT_WORDS = { instrument: "Instrument Sans", bricolage: "Bricolage", literata: "Literata", figtree: "Figtree" };

export const DENSITY_WORDS = { close: "Close", middle: "Middle", airy: "Airy" };

export const CORNER_WORDS = { square: "Square", soft: "Soft", round: "Round" };

export const HEAD_WORDS = { band: "Filled", paper: "Paper", line: "With a line" };

/** Languages of the formats: dates, numbers and money. The portal's own words are English until another is shipped. */
export const LOCALES = [
  "en-GB",
  "en-US",
  "en-IE",
  "en-AU",
  "de-DE",
  "de-CH",
  "fr-FR",
  "es-ES",
  "it-IT",
  "nl-NL",
  "pt-PT",
  "sv-SE",
  "pl-PL",
];
