"use client";
/** The eight steps of the work down the left side, joined like stations of a path, each with its state. */
import { usePathname } from "next/navigation";
import { useCurrentInView } from "@/ui/current-in-view";
import { Link } from "@/ui/link";
import type { Step } from "../steps";

export function Rail({ at, steps }: { at: string; steps: Step[] }) {
  const here = usePathname();
  const nav = useCurrentInView(here);
  return (
    <nav ref={nav} aria-label="Steps of the work" className="quiet-scroll overflow-x-auto md:overflow-visible">
      <ol className="flex gap-1 md:grid md:gap-0">
        {steps.map((s, i) => {
          const path = `${at}/${s.path}`;
          const current = [s.path, ...(s.also ?? [])].some((x) => here === `${at}/${x}` || here.startsWith(`${at}/${x}/`));
          return (
            <li key={s.path} className="relative md:pl-4">
              {i > 0 && <span aria-hidden className="absolute -top-0 left-[1.72rem] hidden h-3 w-px bg-base-content/25 md:block" />}
              {i < steps.length - 1 && (
                <span aria-hidden className="absolute bottom-0 left-[1.72rem] top-9 hidden w-px bg-base-content/25 md:block" />
              )}
              <Link
                href={path}
                aria-current={current ? "page" : undefined}
                className="group flex items-start gap-3 rounded-md py-2.5 pr-3 pl-1 md:pl-0"
              >
                <span
                  aria-hidden
                  className="num mt-px grid size-6 shrink-0 place-items-center rounded-full border border-base-content/35 bg-base-200 text-xs group-aria-[current=page]:border-primary group-aria-[current=page]:bg-primary group-aria-[current=page]:text-primary-content"
                >
                  {i + 1}
                </span>
                <span className="min-w-0">
                  <span className="block whitespace-nowrap leading-6 group-hover:underline group-aria-[current=page]:font-semibold md:whitespace-normal">
                    {s.name}
                  </span>
                  <span className="quiet hidden text-[0.83rem] leading-snug md:block">{s.state}</span>
                  {s.waits && (
                    <span className="hidden text-[0.83rem] leading-snug font-medium text-accent empty:hidden md:block">{s.waits}</span>
                  )}
                </span>
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
