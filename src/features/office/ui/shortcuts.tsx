"use client";
/** Keys: `g` then a digit goes to a step, `?` opens this sheet, `/` searches. */
import { Keyboard } from "lucide-react";
import { useRouter } from "next/navigation";
import { useEffect, useRef } from "react";

export function Shortcuts({ steps }: { steps: { key: string; name: string; href: string }[] }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const router = useRouter();
  useEffect(() => {
    let going = false;
    const listen = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      if (e.ctrlKey || e.metaKey || e.altKey || /^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName) || at.isContentEditable) return;
      if (e.key === "?") {
        if (!dialog.current?.open) dialog.current?.showModal();
      } else if (going) {
        const step = steps.find((s) => s.key === e.key);
        if (step) router.push(step.href);
      }
      going = e.key === "g";
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, [steps, router]);
  const row = (keys: string[], words: string) => (
    <li key={words} className="flex items-center justify-between gap-6 py-1.5">
      <span>{words}</span>
      <span className="flex gap-1">
        {keys.map((k) => (
          <kbd key={k} className="kbd kbd-sm">
            {k}
          </kbd>
        ))}
      </span>
    </li>
  );
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square hidden md:inline-flex"
        aria-label="Keyboard shortcuts"
        onClick={() => dialog.current?.showModal()}
      >
        <Keyboard size={17} aria-hidden />
      </button>
      <dialog ref={dialog} className="modal" aria-labelledby="shortcuts-title">
        <div className="modal-box">
          <h2 id="shortcuts-title">Keys</h2>
          <ul className="mt-3 divide-y divide-base-300">
            {row(["/"], "Search this table")}
            {row(["?"], "This sheet")}
            {steps.map((s) => row(["g", s.key], `Go to ${s.name}`))}
            {row(["←", "→", "↑", "↓"], "Move through a table's cells")}
            {row(["Enter"], "Change the cell; again to keep it")}
            {row(["Esc"], "Leave the cell as it was")}
          </ul>
          <form method="dialog" className="mt-4">
            <button type="submit" className="btn">
              Close
            </button>
          </form>
        </div>
      </dialog>
    </>
  );
}
