"use client";
/** The parts of what connects a portal with other programs. */
import { usePathname } from "next/navigation";
import { useCurrentInView } from "@/ui/current-in-view";
import { Link } from "@/ui/link";

const TABS = [
  { path: "systems", name: "Other systems" },
  { path: "keys", name: "Keys" },
  { path: "webhooks", name: "Webhooks" },
] as const;

export function ConnectionTabs({ at }: { at: string }) {
  const here = usePathname();
  const row = useCurrentInView(here);
  return (
    <nav ref={row} aria-label="Parts of connections" className="quiet-scroll -mb-1 flex gap-5 overflow-x-auto border-b border-base-300">
      {TABS.map((t) => {
        const href = `${at}/connections/${t.path}`;
        return (
          <Link
            key={href}
            href={href}
            aria-current={here === href || here.startsWith(`${href}/`) ? "page" : undefined}
            className="-mb-px whitespace-nowrap border-b-2 border-transparent px-0.5 pb-2 hover:underline aria-[current=page]:border-primary aria-[current=page]:font-semibold"
          >
            {t.name}
          </Link>
        );
      })}
    </nav>
  );
}
