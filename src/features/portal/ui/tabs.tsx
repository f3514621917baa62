"use client";
/** The lists that are open, with the one at hand marked. On the client, because a layout stays while its pages change. */
import { usePathname } from "next/navigation";
import { useCurrentInView } from "@/ui/current-in-view";
import { Link } from "@/ui/link";
import { useWords } from "@/ui/words";

export interface Tab {
  path: string;
  name: string;
}

export function Tabs({ base, tabs }: { base: string; tabs: Tab[] }) {
  // The same page has two addresses (own host, and /p/<slug> on the main one); only what follows counts.
  const here = usePathname().replace(/^\/p\/[^/]+/, "") || "/";
  const at = (path: string): boolean => (path === "/" ? here === "/" : here === path || here.startsWith(`${path}/`));
  const nav = useCurrentInView(here);
  return (
    <nav
      ref={nav}
      aria-label={useWords()["frame.lists"]}
      className="quiet-scroll mx-auto flex max-w-6xl gap-x-5 overflow-x-auto px-4 md:px-8"
    >
      {tabs.map((t) => (
        <Link
          key={t.path}
          href={t.path === "/" ? base || "/" : base + t.path}
          aria-current={at(t.path) ? "page" : undefined}
          className="whitespace-nowrap border-b-3 border-transparent px-1 py-2.5 opacity-85 hover:opacity-100 aria-[current=page]:border-current aria-[current=page]:font-semibold aria-[current=page]:opacity-100"
        >
          {t.name}
        </Link>
      ))}
    </nav>
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
