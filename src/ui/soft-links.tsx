"use client";
/** Follows this page's links by Next's router, once for all of them; before the script runs they lead as any link does. */
import { useRouter } from "next/navigation";
import { startTransition, useEffect } from "react";

const isPlain = (e: MouseEvent): boolean => e.button === 0 && !e.metaKey && !e.ctrlKey && !e.shiftKey && !e.altKey && !e.defaultPrevented;

/** Has links within the portal change the page without loading it anew. */
export function SoftLinks() {
  const router = useRouter();
  useEffect(() => {
    const follow = (e: MouseEvent): void => {
      if (!isPlain(e) || !(e.target instanceof Element)) return;
      const a = e.target.closest<HTMLAnchorElement>("a[data-soft]");
      if (!a || (a.target && a.target !== "_self") || a.hasAttribute("download") || a.origin !== window.location.origin) return;
      e.preventDefault();
      // The whole address: a path that begins with two slashes would be read as another host.
      startTransition(() => router.push(a.href, { scroll: a.dataset.soft !== "still" }));
    };
    document.addEventListener("click", follow);
    return () => document.removeEventListener("click", follow);
  }, [router]);
  return null;
}
