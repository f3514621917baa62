"use client";
/** The lists that are open, with the one at hand marked. On the client, because a layout stays while its pages change. */
import { ChevronDown } from "lucide-react";
import { usePathname } from "next/navigation";
import { type CSSProperties, useId } from "react";
import { useCurrentInView } from "@/ui/current-in-view";
import { Link } from "@/ui/link";
import { useWords } from "@/ui/words";
import type { Entry, Group } from "../../menu";

export function Tabs({ base, entries }: { base: string; entries: readonly (Entry | Group)[] }) {
  // The same page has two addresses (own host, and /p/<slug> on the main one); only what follows counts.
  const here = usePathname().replace(/^\/p\/[^/]+/, "") || "/";
  const nav = useCurrentInView(here);
  return (
    <nav
      ref={nav}
      aria-label={useWords()["frame.lists"]}
      className="quiet-scroll mx-auto flex max-w-6xl gap-x-5 overflow-x-auto px-4 md:px-8"
    >
      {entries.map((e) =>
        "entries" in e ? <Folded key={e.id} group={e} base={base} here={here} /> : <Tab key={e.id} entry={e} base={base} here={here} />,
      )}
    </nav>
  );
}

const LOOK =
  "whitespace-nowrap border-b-3 border-transparent px-1 py-2.5 hover:border-current/40 aria-[current=page]:border-current aria-[current=page]:font-semibold";

const at = (here: string, path: string): boolean => (path === "/" ? here === "/" : here === path || here.startsWith(`${path}/`));

function Tab({ entry, base, here, look = LOOK }: { entry: Entry; base: string; here: string; look?: string }) {
  if (entry.to.startsWith("https://"))
    return (
      <a href={entry.to} rel="noopener noreferrer" className={look}>
        {entry.name}
      </a>
    );
  return (
    <Link href={entry.to === "/" ? base || "/" : base + entry.to} aria-current={at(here, entry.to) ? "page" : undefined} className={look}>
      {entry.name}
    </Link>
  );
}

/** A group opens below its name; the scrolling menu would cut it off, so it stands over the page. */
function Folded({ group, base, here }: { group: Group; base: string; here: string }) {
  const id = useId();
  return (
    <>
      <button
        type="button"
        popoverTarget={id}
        aria-current={group.entries.some((e) => at(here, e.to)) ? "page" : undefined}
        className={`${LOOK} cursor-pointer`}
        style={{ anchorName: `--${id.replace(/\W/g, "")}` } as CSSProperties}
      >
        {group.name} <ChevronDown size={14} aria-hidden className="inline" />
      </button>
      <div
        id={id}
        popover="auto"
        className="m-0 min-w-44 rounded-box border border-base-300 bg-base-100 p-2 [--focus:var(--color-accent)] text-base-content shadow-lg"
        style={{ positionAnchor: `--${id.replace(/\W/g, "")}`, top: "anchor(bottom)", left: "anchor(left)" } as CSSProperties}
      >
        {group.entries.map((e) => (
          <Tab
            key={e.id}
            entry={e}
            base={base}
            here={here}
            look="block rounded-sm px-3 py-1.5 hover:bg-base-200 aria-[current=page]:font-semibold"
          />
        ))}
      </div>
    </>
  );
}

/** For visitors, everywhere but on the sign-in page itself. */
export function SignInLink({ base }: { base: string }) {
  const words = useWords();
  if (usePathname().endsWith("/sign-in")) return null;
  return (
    <Link className="underline underline-offset-3" href={`${base}/sign-in`}>
      {words["door.sign-in"]}
    </Link>
  );
}
