"use client";
/**
 * The editor of a page: the page itself in the middle, alive as somebody would find it; beside it what it is made of, and the settings of
 * what is selected. Everything is kept as it is done, and undone step by step.
 */
import { ArrowLeft, Eye, Monitor, Plus, Smartphone } from "lucide-react";
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useEffect, useMemo, useRef, useState } from "react";
import type { Page, Section } from "@/core/pages/page";
import { KINDS, type Kind, SECTION_KINDS } from "@/core/sections";
import { DraftSteps } from "@/office/ui/draft-steps";
import { PersonFinder } from "@/ui/forms/person-finder";
import { Link } from "@/ui/link";
import { doubleSection, dropSection, keepPage, keepPassphrase, keepSection, placeSection, putSection, takePageAway } from "../../actions";
import { CarryForm } from "../carry-form";
import { Around, type Offered } from "./around";
import type { Laid } from "./laid";
import { Outline } from "./outline";
import { PagePanel } from "./page-panel";
import { Preview } from "./preview";
import { RefusedNote } from "./refused-note";
import { SectionPanel } from "./section-panel";
import { useKeeping } from "./use-keeping";

interface Props {
  offered: Offered;
  at: string;
  page: Page;
  ready: boolean;
  wasReady: boolean;
  revision: number;
  moves: { undo: string | null; redo: string | null };
  sections: readonly Laid[];
  as: { key: string; name: string };
  seenBy: readonly string[];
  /** Others who changed the draft in the last minutes. */
  others: string | null;
  /** Other portals of the agency, to copy from. */
  portals: readonly { readonly slug: string; readonly name: string }[];
}

const LOOK_EVERY_MS = 45_000;

export function Editor({ offered, at, page, ready, wasReady, revision, moves, sections, as, seenBy, others, portals }: Props) {
  const router = useRouter();
  const [selected, setSelected] = useState<string | null>(null);
  const [width, setWidth] = useState(1280);
  const [adding, setAdding] = useState(false);
  const [edited, setEdited] = useState<Section | null>(null);
  const [editedPage, setEditedPage] = useState<Page | null>(null);
  const finder = useRef<HTMLDialogElement>(null);
  const { portal } = offered;

  const { saving, refusal, run, later, flush, dismiss, isIdle } = useKeeping(revision, setSelected);
  const leave = (): void => {
    dismiss();
    setEdited(null);
    setEditedPage(null);
  };
  const change = (s: Section): void => {
    setEdited(s);
    later(() => void run((r) => keepSection(portal, r, s), true));
  };
  const changePage = (p: Page): void => {
    setEditedPage(p);
    later(() => void run((r) => keepPage(portal, r, p), true));
  };
  const select = (id: string | null): void => {
    flush();
    setSelected(id);
    leave();
    setAdding(false);
  };
  // What the server has is what counts, once nothing is on its way there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the page's own state comes with each revision
  useEffect(() => {
    if (isIdle()) {
      setEdited(null);
      setEditedPage(null);
    }
  }, [revision, sections]);

  // Others who come or go are told of, and what they change is seen.
  useEffect(() => {
    const timer_ = setInterval(() => {
      if (document.visibilityState === "visible" && isIdle()) router.refresh();
    }, LOOK_EVERY_MS);
    return () => clearInterval(timer_);
  }, [router, isIdle]);
  const chosen = sections.find((x) => x.section.id === selected);
  const shown = edited && chosen && edited.id === chosen.section.id ? edited : chosen?.section;
  const kinds = useMemo(() => KINDS.filter((k) => !("ofRecord" in SECTION_KINDS[k]) || page.about !== null), [page.about]);
  const add = (kind: Kind): void => {
    setAdding(false);
    void run((r) =>
      putSection(portal, r, {
        page: page.id,
        kind,
        after: selected ?? sections.at(-1)?.section.id ?? null,
        table: null,
        about: page.about,
      }),
    );
  };
  return (
    <Around value={offered}>
      <div className="flex h-dvh flex-col">
        <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-base-300 bg-base-100 px-4 py-2">
          <Link href={`${at}/pages`} className="btn btn-ghost btn-sm" aria-label="Back to all pages">
            <ArrowLeft size={16} aria-hidden /> Pages
          </Link>
          <h1 className="text-lg">{page.name}</h1>
          <span className="quiet text-sm" role="status">
            {saving ? "Keeping…" : ready ? "Ready-made" : "Kept in the draft"}
          </span>
          <span className="grow" />
          <button type="button" className="btn btn-sm" onClick={() => finder.current?.showModal()}>
            <Eye size={15} aria-hidden /> As {as.name}
          </button>
          <WidthChoice width={width} setWidth={setWidth} />
          <DraftSteps portal={portal} revision={revision} parts={PARTS} {...moves} />
          <Link href={`${at}/publish`} className="btn btn-primary btn-sm">
            To publishing
          </Link>
        </header>
        {others && (
          <p role="status" className="border-b border-base-300 bg-warning/10 px-4 py-1.5 text-sm">
            {others}
          </p>
        )}
        <div className="flex min-h-0 grow max-md:flex-col">
          <Preview
            address={`${at}/-/preview/${encodeURIComponent(page.id)}?as=${encodeURIComponent(as.key)}`}
            revision={revision}
            width={width}
            selected={selected}
            onSelect={select}
            title={`${page.name}, as ${as.name}`}
          />
          <aside
            aria-label="What the page is made of"
            className="flex w-full shrink-0 flex-col border-l border-base-300 bg-base-100 max-md:max-h-[45dvh] md:w-80"
          >
            <div className="max-h-[42%] shrink-0 overflow-x-hidden overflow-y-auto border-b border-base-300 p-3 has-[[aria-expanded=true]]:max-h-[70%]">
              <PageOrSection selected={selected} select={select} adding={adding} setAdding={setAdding} />
              {adding ? (
                <SectionKinds
                  kinds={kinds}
                  add={add}
                  portal={portal}
                  revision={revision}
                  portals={portals}
                  page={page}
                  setAdding={setAdding}
                  router={router}
                />
              ) : (
                <Outline
                  sections={sections}
                  selected={selected}
                  onSelect={select}
                  onPlace={(id, after) => void run((r) => placeSection(portal, r, { page: page.id, section: id, after }))}
                  onCopy={(id) => void run((r) => doubleSection(portal, r, page.id, id))}
                  onDrop={(id) => {
                    setSelected(null);
                    void run((r) => dropSection(portal, r, page.id, id));
                  }}
                />
              )}
              {sections.length === 0 && !adding && (
                <p className="quiet py-2 text-sm">Nothing stands on it yet. Add something: it is alive at once.</p>
              )}
            </div>
            <div className="min-h-0 grow overflow-y-auto p-3">
              {refusal && <RefusedNote refusal={refusal} onLeave={leave} />}
              {shown && chosen ? (
                <SectionPanel key={shown.id} section={shown} problems={chosen.problems} onChange={change} />
              ) : (
                <PagePanel
                  page={editedPage ?? page}
                  ready={ready}
                  wasReady={wasReady}
                  aboutName={offered.about?.name ?? null}
                  seenBy={seenBy}
                  onChange={changePage}
                  onPassphrase={(words) => void run((r) => keepPassphrase(portal, r, page.id, words))}
                  onAway={async (forGood) => {
                    if ((await run((r) => takePageAway(portal, r, page.id, forGood))) && (forGood || !wasReady)) router.push(`${at}/pages`);
                  }}
                />
              )}
            </div>
          </aside>
        </div>
        <PersonFinder
          dialog={finder}
          source={`${at}/people/named`}
          label="Look at the page as"
          placeholder="As whom?"
          also={{ label: "As a visitor, signed out", choose: () => router.push("?as=visitor") }}
          onChoose={(p) => {
            finder.current?.close();
            router.push(`?as=${encodeURIComponent(`${p.personId} ${p.membershipId ?? ""}`.trim())}`);
          }}
        />
      </div>
    </Around>
  );
}

const PARTS = ["pages"] as const;

/** How wide the page is shown. */
function WidthChoice({ width, setWidth }: { width: number; setWidth: Dispatch<SetStateAction<number>> }) {
  return (
    <fieldset className="join" aria-label="How wide">
      {[
        { w: 1280, icon: <Monitor size={15} aria-hidden />, label: "1280 wide" },
        { w: 390, icon: <Smartphone size={15} aria-hidden />, label: "390 wide" },
      ].map((x) => (
        <button
          key={x.w}
          type="button"
          className={`btn btn-sm join-item ${width === x.w ? "btn-active" : ""}`}
          aria-pressed={width === x.w}
          aria-label={x.label}
          onClick={() => setWidth(x.w)}
        >
          {x.icon}
        </button>
      ))}
    </fieldset>
  );
}

interface PageOrSectionProps {
  readonly selected: string | null;
  readonly select: (id: string | null) => void;
  readonly adding: boolean;
  readonly setAdding: Dispatch<SetStateAction<boolean>>;
}

/** The page itself, or a new section. */
function PageOrSection({ selected, select, adding, setAdding }: PageOrSectionProps) {
  return (
    <div className="mb-1 flex items-center justify-between gap-2">
      <button
        type="button"
        className={`min-h-7 text-sm ${selected === null ? "font-semibold" : "link-plain"}`}
        onClick={() => select(null)}
      >
        The page itself
      </button>
      <button type="button" className="btn btn-sm" aria-expanded={adding} onClick={() => setAdding(!adding)}>
        <Plus size={14} aria-hidden /> Add
      </button>
    </div>
  );
}

interface SectionKindsProps {
  readonly kinds: Kind[];
  readonly add: (kind: Kind) => void;
  readonly portal: string;
  readonly revision: number;
  readonly portals: readonly { slug: string; name: string }[];
  readonly page: Page;
  readonly setAdding: Dispatch<SetStateAction<boolean>>;
  readonly router: ReturnType<typeof useRouter>;
}

/** Kinds of section that can be added. */
function SectionKinds({ kinds, add, portal, revision, portals, page, setAdding, router }: SectionKindsProps) {
  return (
    <ul className="grid gap-0.5" aria-label="Kinds of section">
      {kinds.map((k) => (
        <li key={k}>
          <button type="button" className="w-full rounded-field px-2 py-1.5 text-left hover:bg-base-200" onClick={() => add(k)}>
            <span className="block text-sm font-medium">{SECTION_KINDS[k].name}</span>
            <span className="quiet block text-sm">{SECTION_KINDS[k].what}</span>
          </button>
        </li>
      ))}
      <li className="pt-2">
        <CarryForm
          portal={portal}
          revision={revision}
          others={portals}
          onto={page.id}
          onDone={() => {
            setAdding(false);
            router.refresh();
          }}
        />
      </li>
    </ul>
  );
}
