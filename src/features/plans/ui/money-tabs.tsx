"use client";
/** The tabs above the pages of plans and money. */
import { usePathname } from "next/navigation";
import { Link } from "@/ui/link";

export function MoneyTabs({ at }: { at: string }) {
  const here = usePathname();
  const tabs = [
    { href: `${at}/plans`, name: "What is sold" },
    { href: `${at}/plans/money`, name: "Money" },
  ];
  return (
    <nav aria-label="Parts of plans" className="-mb-1 flex gap-5 border-b border-base-300">
      {tabs.map((t) => (
        <Link
          key={t.href}
          href={t.href}
          aria-current={here === t.href || (t.name === "Money" && here.startsWith(`${at}/plans/`)) ? "page" : undefined}
          className="-mb-px whitespace-nowrap border-b-2 border-transparent px-0.5 pb-2 hover:underline aria-[current=page]:border-primary aria-[current=page]:font-semibold"
        >
          {t.name}
        </Link>
      ))}
    </nav>
  );
}
