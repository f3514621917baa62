"use client";
/** Parts around the page that is laid out. */
import { Monitor, Plus, Smartphone } from "lucide-react";
import type { useRouter } from "next/navigation";
import type { Dispatch, RefObject, SetStateAction } from "react";
import type { Page } from "@/core/pages/page";
import { type Kind, SECTION_KINDS } from "@/core/sections";
import { PersonFinder } from "@/ui/forms/person-finder";
import { CarryForm } from "../carry-form";

/** How wide the page is shown. */
export function WidthChoice({ width, setWidth }: { width: number; setWidth: Dispatch<SetStateAction<number>> }) {
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
export function PageOrSection({ selected, select, adding, setAdding }: PageOrSectionProps) {
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
export function SectionKinds({ kinds, add, portal, revision, portals, page, setAdding, router }: SectionKindsProps) {
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

interface AsWhomProps {
  readonly finder: RefObject<HTMLDialogElement | null>;
  readonly at: string;
  readonly router: ReturnType<typeof useRouter>;
}

/** As whom the page is looked at. */
export function AsWhom({ finder, at, router }: AsWhomProps) {
  return (
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
  );
}
