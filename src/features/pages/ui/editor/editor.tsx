"use client";
import { ArrowLeft, Eye } from "lucide-react";
import { useRouter } from "next/navigation";
import { type ReactNode, useRef, useState } from "react";
import type { Page } from "@/core/pages/page";
import { DraftSteps } from "@/office/ui/draft-steps";
import { Link } from "@/ui/link";
import { Around, type Offered } from "./around";
import { AsWhom, PageOrSection, SectionKinds, WidthChoice } from "./editor-parts";
import type { Laid } from "./laid";
import { Outline } from "./outline";
import { PagePanel } from "./page-panel";
import { Preview } from "./preview";
import { RefusedNote } from "./refused-note";
import { SectionPanel } from "./section-panel";
import { useEditing } from "./use-editing";

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

export function Editor({ offered, at, page, ready, wasReady, revision, moves, sections, as, seenBy, others, portals }: Props) {
  const router = useRouter();
  const [width, setWidth] = useState(1280);
  const finder = useRef<HTMLDialogElement>(null);
  const { portal } = offered;
  const e = useEditing({ portal, page, revision, sections });
  return (
    <Around value={offered}>
      <div className="flex h-dvh flex-col">
        <EditorHead at={at} name={page.name} saving={e.saving} ready={ready} as={as.name} onAs={() => finder.current?.showModal()}>
          <WidthChoice width={width} setWidth={setWidth} />
          <DraftSteps portal={portal} revision={revision} parts={PARTS} {...moves} />
        </EditorHead>
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
            selected={e.selected}
            onSelect={e.select}
            title={`${page.name}, as ${as.name}`}
          />
          <aside
            aria-label="What the page is made of"
            className="flex w-full shrink-0 flex-col border-l border-base-300 bg-base-100 max-md:max-h-[45dvh] md:w-80"
          >
            <div className="max-h-[42%] shrink-0 overflow-x-hidden overflow-y-auto border-b border-base-300 p-3 has-[[aria-expanded=true]]:max-h-[70%]">
              <PageOrSection selected={e.selected} select={e.select} adding={e.adding} setAdding={e.setAdding} />
              {e.adding ? (
                <SectionKinds
                  kinds={e.kinds}
                  add={e.add}
                  portal={portal}
                  revision={revision}
                  portals={portals}
                  page={page}
                  setAdding={e.setAdding}
                  router={router}
                />
              ) : (
                <Outline sections={sections} selected={e.selected} onSelect={e.select} onPlace={e.place} onCopy={e.copy} onDrop={e.drop} />
              )}
              {sections.length === 0 && !e.adding && (
                <p className="quiet py-2 text-sm">Nothing stands on it yet. Add something: it is alive at once.</p>
              )}
            </div>
            <div className="min-h-0 grow overflow-y-auto p-3">
              {e.refusal && <RefusedNote refusal={e.refusal} onLeave={e.leave} />}
              {e.shown && e.chosen ? (
                <SectionPanel key={e.shown.id} section={e.shown} problems={e.chosen.problems} onChange={e.change} />
              ) : (
                <PagePanel
                  page={e.editedPage ?? page}
                  ready={ready}
                  wasReady={wasReady}
                  aboutName={offered.about?.name ?? null}
                  seenBy={seenBy}
                  onChange={e.changePage}
                  onPassphrase={e.passphrase}
                  onAway={async (forGood) => {
                    if ((await e.away(forGood)) && (forGood || !wasReady)) router.push(`${at}/pages`);
                  }}
                />
              )}
            </div>
          </aside>
        </div>
        <AsWhom finder={finder} at={at} router={router} />
      </div>
    </Around>
  );
}

const PARTS = ["pages"] as const;

interface EditorHeadProps {
  readonly at: string;
  readonly name: string;
  readonly saving: boolean;
  readonly ready: boolean;
  /** As whom the page is looked at. */
  readonly as: string;
  readonly onAs: () => void;
  readonly children: ReactNode;
}

/** Which page it is, whether it is kept, and as whom and how wide it is looked at. */
function EditorHead({ at, name, saving, ready, as, onAs, children }: EditorHeadProps) {
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-base-300 bg-base-100 px-4 py-2">
      <Link href={`${at}/pages`} className="btn btn-ghost btn-sm" aria-label="Back to all pages">
        <ArrowLeft size={16} aria-hidden /> Pages
      </Link>
      <h1 className="text-lg">{name}</h1>
      <span className="quiet text-sm" role="status">
        {saving ? "Keeping…" : ready ? "Ready-made" : "Kept in the draft"}
      </span>
      <span className="grow" />
      <button type="button" className="btn btn-sm" onClick={onAs}>
        <Eye size={15} aria-hidden /> As {as}
      </button>
      {children}
      <Link href={`${at}/publish`} className="btn btn-primary btn-sm">
        To publishing
      </Link>
    </header>
  );
}
