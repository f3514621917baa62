"use client";
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { LOOKS } from "@/core/brand/looks";
import { type BrandSettings, CORNERS, DENSITIES, FONTS, HEADS, SIGN_INS } from "@/core/definition/parts/brand";
import { answered } from "@/ui/answered";
import { keepBrand } from "../actions";
import { Colour, Labelled, Part, PictureBox } from "./brand-parts";
import { BrandPreview } from "./brand-preview";

interface PortalWords {
  name: string;
  locale: string;
  timeZone: string;
}
interface Props {
  slug: string;
  at: string;
  revision: number;
  brand: BrandSettings;
  portal: PortalWords;
  zones: readonly string[];
  frames: readonly string[];
}

const FONT_WORDS = { instrument: "Instrument Sans", bricolage: "Bricolage", literata: "Literata", figtree: "Figtree" };
const DENSITY_WORDS = { close: "Close", middle: "Middle", airy: "Airy" };
const CORNER_WORDS = { square: "Square", soft: "Soft", round: "Round" };
const HEAD_WORDS = { band: "Filled", paper: "Paper", line: "With a line" };
const SIGN_IN_WORDS = { plain: "Plain", side: "Picture at the side", behind: "Picture behind" };
/** Languages of the formats: dates, numbers and money. The portal's own words are English until another is shipped. */
const LOCALES = ["en-GB", "en-US", "en-IE", "en-AU", "de-DE", "de-CH", "fr-FR", "es-ES", "it-IT", "nl-NL", "pt-PT", "sv-SE", "pl-PL"];

export function BrandForm({ slug, at, revision, brand: was, portal: words, zones, frames: wereFramed }: Props) {
  const router = useRouter();
  const [brand, setBrand] = useState(was);
  const [portal, setPortal] = useState(words);
  const [frames, setFrames] = useState(wereFramed.join("\n"));
  const [busy, start] = useTransition();
  const changed = JSON.stringify([brand, portal, frames]) !== JSON.stringify([was, words, wereFramed.join("\n")]);
  const put = (more: Partial<BrandSettings>): void => setBrand({ ...brand, ...more });
  const keep = (): void =>
    start(async () => {
      const answer = await answered(keepBrand(slug, revision, { brand, portal, frames: frames.split(/\s+/).filter(Boolean) }));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      if (answer?.ok) router.refresh();
    });
  const choice = <T extends string>(label: string, value: T, options: readonly T[], said: Record<T, string>, set: (v: T) => void) => (
    <Labelled label={label}>
      {(id) => (
        <select id={id} className="select select-sm w-full" value={value} onChange={(e) => set(e.target.value as T)}>
          {options.map((o) => (
            <option key={o} value={o}>
              {said[o]}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
  const words_ = (label: string, value: string, set: (v: string) => void, lines = 1) => (
    <Labelled label={label}>
      {(id) =>
        lines > 1 ? (
          <textarea id={id} rows={lines} className="textarea textarea-sm w-full" value={value} onChange={(e) => set(e.target.value)} />
        ) : (
          <input id={id} className="input input-sm w-full" value={value} onChange={(e) => set(e.target.value)} />
        )
      }
    </Labelled>
  );
  return (
    <div className="grid gap-6 lg:grid-cols-[23rem_minmax(0,1fr)]">
      <form
        className="grid content-start gap-6"
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <LooksPart brand={brand} put={put} />
        <Part title="Colours">
          <div className="grid grid-cols-2 gap-3">
            <Colour label="Brand" value={brand.colour} onChange={(colour) => put({ colour })} />
            <Colour label="Ground" value={brand.ground} onChange={(ground) => put({ ground })} />
          </div>
        </Part>
        <Part title="Logo and mark">
          <PictureBox slug={slug} at={at} what="logo" label="Logo" hash={brand.logo} onChange={(logo) => put({ logo })} />
          {words_("Letters for the tab, and where there is no logo", brand.monogram, (monogram) => put({ monogram: monogram.slice(0, 3) }))}
        </Part>
        <Part title="Shape">
          <div className="grid grid-cols-2 gap-3">
            {choice("Head of the page", brand.head, HEADS, HEAD_WORDS, (head) => put({ head }))}
            {choice("Corners", brand.corners, CORNERS, CORNER_WORDS, (corners) => put({ corners }))}
            {choice("Titles", brand.titles, FONTS, FONT_WORDS, (titles) => put({ titles }))}
            {choice("Text", brand.text, FONTS, FONT_WORDS, (text) => put({ text }))}
            {choice("Room", brand.density, DENSITIES, DENSITY_WORDS, (density) => put({ density }))}
          </div>
        </Part>
        <Part title="Signing in">
          {choice("The page", brand.signIn.kind, SIGN_INS, SIGN_IN_WORDS, (kind) => put({ signIn: { ...brand.signIn, kind } }))}
          {brand.signIn.kind !== "plain" && (
            <PictureBox
              slug={slug}
              at={at}
              what="picture"
              label="Its picture"
              hash={brand.signIn.picture}
              onChange={(picture) => put({ signIn: { ...brand.signIn, picture } })}
            />
          )}
          {words_("Words of welcome", brand.signIn.welcome, (welcome) => put({ signIn: { ...brand.signIn, welcome } }), 2)}
        </Part>
        <Part title="Words">
          {words_("Name of the portal", portal.name, (name) => setPortal({ ...portal, name }))}
          {words_("Motto", brand.motto, (motto) => put({ motto }))}
          {words_("Whom clients write to", brand.contact, (contact) => put({ contact }))}
          {words_("At the foot of every page", brand.footer, (footer) => put({ footer }), 2)}
        </Part>
        <FormatsPart portal={portal} setPortal={setPortal} zones={zones} />
        <Part title="In a frame of another site">
          {words_("Sites that may show pages of the portal, a line each", frames, setFrames, 2)}
          <p className="quiet text-sm">
            What stands in a frame is what a visitor sees: nobody is signed in there. The page tells the site its height as a message,
            {' {elkhorn: "height", height: 840}.'}
          </p>
        </Part>
        <BrandButtons
          busy={busy}
          changed={changed}
          setBrand={setBrand}
          was={was}
          setPortal={setPortal}
          words={words}
          setFrames={setFrames}
          wereFramed={wereFramed}
        />
      </form>
      <BrandPreview brand={brand} name={portal.name} at={at} locale={portal.locale} />
    </div>
  );
}

interface FormatsPartProps {
  readonly portal: PortalWords;
  readonly setPortal: Dispatch<SetStateAction<PortalWords>>;
  readonly zones: readonly string[];
}

/** Language, time zone and formats. */
function FormatsPart({ portal, setPortal, zones }: FormatsPartProps) {
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
function LooksPart({ brand, put }: { brand: BrandSettings; put: (more: Partial<BrandSettings>) => void }) {
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

interface BrandButtonsProps {
  readonly busy: boolean;
  readonly changed: boolean;
  readonly setBrand: Dispatch<SetStateAction<BrandSettings>>;
  readonly was: BrandSettings;
  readonly setPortal: Dispatch<SetStateAction<PortalWords>>;
  readonly words: PortalWords;
  readonly setFrames: Dispatch<SetStateAction<string>>;
  readonly wereFramed: readonly string[];
}

/** Keep what was changed, or take it back. */
function BrandButtons({ busy, changed, setBrand, was, setPortal, words, setFrames, wereFramed }: BrandButtonsProps) {
  return (
    <div className="sticky bottom-0 flex items-center gap-3 border-t border-base-300 bg-base-200 py-3">
      <button type="submit" className="btn btn-primary btn-sm" disabled={busy || !changed}>
        Keep in the draft
      </button>
      {changed && (
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => {
            setBrand(was);
            setPortal(words);
            setFrames(wereFramed.join("\n"));
          }}
        >
          As it was
        </button>
      )}
    </div>
  );
}
