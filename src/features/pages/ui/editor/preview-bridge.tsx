"use client";
/** In the preview nothing leads anywhere and nothing is sent: pressing selects the section that it stands in. */
import { useRouter } from "next/navigation";
import { useEffect } from "react";

/** Within the page that is laid out: tells the editor which section was pressed. */
export function PreviewBridge() {
  const router = useRouter();
  useEffect(() => {
    const here = window.location.origin;
    const mark = (id: string | null): void => {
      for (const el of document.querySelectorAll<HTMLElement>("[data-laid]")) el.dataset.on = String(el.dataset.laid === id);
      if (id) document.querySelector<HTMLElement>(`[data-laid="${CSS.escape(id)}"]`)?.scrollIntoView({ block: "nearest" });
    };
    const press = (e: Event): void => {
      e.preventDefault();
      e.stopPropagation();
      if (e.type !== "click") return;
      const id = (e.target as HTMLElement).closest<HTMLElement>("[data-laid]")?.dataset.laid ?? null;
      mark(id);
      window.parent.postMessage({ elkhorn: "selected", section: id }, here);
    };
    const listen = (e: MessageEvent): void => {
      const told = e.data as { elkhorn?: string; section?: string | null };
      if (e.origin !== here || e.source !== window.parent) return;
      if (told.elkhorn === "select") mark(told.section ?? null);
      if (told.elkhorn === "refresh") router.refresh();
    };
    document.addEventListener("click", press, true);
    document.addEventListener("submit", press, true);
    window.addEventListener("message", listen);
    // What was scrolled to stays in sight when the page is drawn anew.
    const key = `elkhorn-scroll ${window.location.pathname}`;
    window.scrollTo(0, Number(sessionStorage.getItem(key) ?? 0));
    const scrolled = (): void => sessionStorage.setItem(key, String(window.scrollY));
    window.addEventListener("scroll", scrolled, { passive: true });
    return () => {
      document.removeEventListener("click", press, true);
      document.removeEventListener("submit", press, true);
      window.removeEventListener("message", listen);
      window.removeEventListener("scroll", scrolled);
    };
  }, [router]);
  return null;
}
