"use client";
import { useRouter } from "next/navigation";
import type { ReactNode } from "react";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { type BrandSettings, SIGN_INS } from "@/core/definition/parts/brand";
import { answered } from "@/ui/answered";
import { keepBrand } from "../actions";
import { ColoursPart, FormatsPart, LooksPart, type PortalWords, ShapePart } from "./brand-choices";
import { Labelled, Part, PictureBox } from "./brand-parts";
import { BrandPreview } from "./brand-preview";

interface Props {
  slug: string;
  at: string;
  revision: number;
  brand: BrandSettings;
  portal: PortalWords;
  zones: readonly string[];
  frames: readonly string[];
}
const SIGN_IN_WORDS = { plain: "Plain", side: "Picture at the side", behind: "Picture behind" };

export function BrandForm({ slug, at, revision, brand: was, portal: words, zones, frames: wereFramed }: Props) {
  const { brand, setBrand, portal, setPortal, frames, setFrames, busy, changed, put, keep, choice, words_ } = useBrand({
    slug,
    revision,
    brand: was,
    portal: words,
    frames: wereFramed,
  });
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
        <ColoursPart brand={brand} put={put} />
        <Part title="Logo and mark">
          <PictureBox slug={slug} at={at} what="logo" label="Logo" hash={brand.logo} onChange={(logo) => put({ logo })} />
          {words_("Letters for the tab, and where there is no logo", brand.monogram, (monogram) => put({ monogram: monogram.slice(0, 3) }))}
        </Part>
        <ShapePart choice={choice} brand={brand} put={put} />
        <Part title="Signing in">
          {choice("The page", brand.signIn.kind, SIGN_INS, SIGN_IN_WORDS, (kind) => put({ signIn: { ...brand.signIn, kind } }))}
          {brand.signIn.kind !== "plain" && <SignInPicture slug={slug} at={at} brand={brand} put={put} />}
          {words_("Words of welcome", brand.signIn.welcome, (welcome) => put({ signIn: { ...brand.signIn, welcome } }), 2)}
        </Part>
        <Part title="Words">
          {words_("Name of the portal", portal.name, (name) => setPortal({ ...portal, name }))}
          {words_("Motto", brand.motto, (motto) => put({ motto }))}
          {words_("Whom clients write to", brand.contact, (contact) => put({ contact }))}
          {words_("At the foot of every page", brand.footer, (footer) => put({ footer }), 2)}
        </Part>
        <FormatsPart portal={portal} setPortal={setPortal} zones={zones} />
        <FramesPart words_={words_} frames={frames} setFrames={setFrames} />
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

/** The brand as it is typed, and its way into the draft. */
function useBrand({
  slug,
  revision,
  brand: was,
  portal: words,
  frames: wereFramed,
}: Pick<Props, "slug" | "revision" | "brand" | "portal" | "frames">) {
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
  return { brand, setBrand, portal, setPortal, frames, setFrames, busy, changed, put, keep, choice, words_ };
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

interface FramesPartProps {
  readonly words_: (label: string, value: string, set: (v: string) => void, lines?: number) => ReactNode;
  readonly frames: string;
  readonly setFrames: Dispatch<SetStateAction<string>>;
}

/** Sites that may show the portal in a frame. */
function FramesPart({ words_, frames, setFrames }: FramesPartProps) {
  return (
    <Part title="In a frame of another site">
      {words_("Sites that may show pages of the portal, a line each", frames, setFrames, 2)}
      <p className="quiet text-sm">
        What stands in a frame is what a visitor sees: nobody is signed in there. The page tells the site its height as a message,
        {' {elkhorn: "height", height: 840}.'}
      </p>
    </Part>
  );
}

interface SignInPictureProps {
  readonly slug: string;
  readonly at: string;
  readonly brand: BrandSettings;
  readonly put: (more: Partial<BrandSettings>) => void;
}

/** The picture of the page to sign in. */
function SignInPicture({ slug, at, brand, put }: SignInPictureProps) {
  return (
    <PictureBox
      slug={slug}
      at={at}
      what="picture"
      label="Its picture"
      hash={brand.signIn.picture}
      onChange={(picture) => put({ signIn: { ...brand.signIn, picture } })}
    />
  );
}
