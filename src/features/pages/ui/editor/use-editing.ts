"use client";
/** What is being edited on a page: which section is chosen, what of it is not kept yet, and the changes themselves. */
import { useRouter } from "next/navigation";
import { useEffect, useMemo, useState } from "react";
import type { Page, Section } from "@/core/pages/page";
import { KINDS, type Kind, SECTION_KINDS } from "@/core/sections";
import { doubleSection, dropSection, keepPage, keepPassphrase, keepSection, placeSection, putSection, takePageAway } from "../../actions";
import type { Laid } from "./laid";
import { useKeeping } from "./use-keeping";

const LOOK_EVERY_MS = 45_000;

interface Of {
  readonly portal: string;
  readonly page: Page;
  readonly revision: number;
  readonly sections: readonly Laid[];
}

export function useEditing({ portal, page, revision, sections }: Of) {
  const [selected, setSelected] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [edited, setEdited] = useState<Section | null>(null);
  const [editedPage, setEditedPage] = useState<Page | null>(null);

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
  useFreshPage(revision, sections, isIdle, () => {
    setEdited(null);
    setEditedPage(null);
  });
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
  return {
    saving,
    refusal,
    run,
    leave,
    change,
    changePage,
    select,
    add,
    kinds,
    selected,
    adding,
    setAdding,
    chosen,
    shown,
    editedPage,
    place: (id: string, after: string | null): void => void run((r) => placeSection(portal, r, { page: page.id, section: id, after })),
    copy: (id: string): void => void run((r) => doubleSection(portal, r, page.id, id)),
    drop(id: string): void {
      setSelected(null);
      void run((r) => dropSection(portal, r, page.id, id));
    },
    passphrase: (words: string | null): void => void run((r) => keepPassphrase(portal, r, page.id, words)),
    away: (forGood: boolean): Promise<boolean> => run((r) => takePageAway(portal, r, page.id, forGood)),
  };
}

/** Others who come or go are told of, and what they change is seen. What the server has counts once nothing is on its way there. */
function useFreshPage(revision: number, sections: readonly Laid[], isIdle: () => boolean, onFresh: () => void): void {
  const router = useRouter();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the page's own state comes with each revision
  useEffect(() => {
    if (isIdle()) onFresh();
  }, [revision, sections]);
  useEffect(() => {
    const timer = setInterval(() => {
      if (document.visibilityState === "visible" && isIdle()) router.refresh();
    }, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [router, isIdle]);
}
