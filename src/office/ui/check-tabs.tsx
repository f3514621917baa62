"use client";
/** The parts of checking: everybody at once, one person, what is probably a mistake, what must hold, what happened. */
import { usePathname } from "next/navigation";
import { mayInOffice } from "@/core/access/who/office";
import { useCurrentInView } from "@/ui/current-in-view";
import { Link } from "@/ui/link";

/** `role` is that of whoever works here: what it does not open is not offered. */
export function CheckTabs({ at, role }: { at: string; role: string }) {
  const here = usePathname();
  const row = useCurrentInView(here);
  const tabs = [
    { href: `${at}/sightlines`, name: "Sightlines" },
    { href: `${at}/check`, name: "One person" },
    { href: `${at}/findings`, name: "Findings" },
    { href: `${at}/safeguards`, name: "Safeguards" },
    { href: `${at}/log`, name: "What happened" },
    ...(mayInOffice(role, "build") ? [{ href: `${at}/rehearsal`, name: "Rehearsal" }] : []),
  ];
  return (
    <nav ref={row} aria-label="Parts of checking" className="quiet-scroll -mb-1 flex gap-5 overflow-x-auto border-b border-base-300">
      {tabs.map((t) => (
        <Link
          key={t.href}
          href={t.href}
          aria-current={here === t.href || here.startsWith(`${t.href}/`) ? "page" : undefined}
          className="-mb-px whitespace-nowrap border-b-2 border-transparent px-0.5 pb-2 hover:underline aria-[current=page]:border-primary aria-[current=page]:font-semibold"
        >
          {t.name}
        </Link>
      ))}
    </nav>
  );
}
