"use client";
/** A search box that `/` reaches from anywhere on the page. */
import { Search } from "lucide-react";
import { useEffect, useRef } from "react";

/** A search that the slash key leads to. */
export function SlashSearch({ label, value, name = "q" }: { label: string; value: string; name?: string }) {
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      if (e.key !== "/" || e.ctrlKey || e.metaKey || /^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName) || at.isContentEditable) return;
      e.preventDefault();
      box.current?.focus();
      box.current?.select();
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
  return (
    <label className="input w-full max-w-72">
      <Search size={15} aria-hidden className="opacity-60" />
      <span className="sr-only">{label}</span>
      <input ref={box} type="search" name={name} defaultValue={value} placeholder={label} />
      <kbd className="kbd kbd-sm hidden md:inline-flex" aria-hidden>
        /
      </kbd>
    </label>
  );
}
