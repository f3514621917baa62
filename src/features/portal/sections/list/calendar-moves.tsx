"use client";
/** Entries of a calendar move to another day: dragged, or by a date that is chosen (WCAG 2.5.7, one pointer without dragging). */
import { CalendarArrowUp } from "lucide-react";
import { useRouter } from "next/navigation";
import { createContext, type DragEvent, type ReactNode, useContext, useRef, useState } from "react";
import { answerOf } from "@/ui/answered";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { placeValue } from "../../records/act-actions";

interface Props {
  label: string;
  locale: string;
  table: string;
  field: string;
  acting: string;
  /** Whether anything in it can be moved. */
  may: boolean;
  children: ReactNode;
}

/** What is known of an entry by the page that the server drew. */
interface Entry {
  readonly record: string;
  readonly name: string;
  readonly day: string;
  readonly after: string;
  readonly seen: string;
}

function entryAt(target: EventTarget | null): Entry | null {
  const el = target instanceof Element ? target.closest<HTMLElement>("[data-entry]") : null;
  const { entry, name, dayOf, after, seen } = el?.dataset ?? {};
  return entry && dayOf ? { record: entry, name: name ?? "", day: dayOf, after: after ?? "", seen: seen ?? "" } : null;
}
const dayAt = (target: EventTarget | null): string | null =>
  (target instanceof Element ? target.closest<HTMLElement>("[data-day]")?.dataset.day : undefined) ?? null;

const Move = createContext<(e: Entry, day: string) => void>(() => {});

export function CalendarMoves({ label, locale, table, field, acting, may, children }: Props) {
  const words = useWords();
  const router = useRouter();
  const dragged = useRef<Entry | null>(null);
  const named = (day: string): string =>
    new Intl.DateTimeFormat(locale, { dateStyle: "full", timeZone: "UTC" }).format(Date.parse(`${day}T12:00:00Z`));
  const move = async (e: Entry, day: string, seen: string): Promise<boolean> => {
    const answer = await answerOf(placeValue({ table, record: e.record, field, acting, seen, values: [day + e.after] }));
    if (answer?.ok) {
      const { seen: now } = answer;
      sayBelow({
        words: `${e.name}: ${named(day)}`,
        tone: "good",
        undo: async () => ((await move({ ...e, day }, e.day, now)) ? words["said.back"] : ""),
      });
    } else sayBelow({ words: answer?.message ?? words["answer.none"], tone: "trouble" });
    router.refresh();
    return answer?.ok ?? false;
  };
  const begin = (e: DragEvent): void => {
    dragged.current = entryAt(e.target);
    if (dragged.current) e.dataTransfer.effectAllowed = "move";
  };
  const over = (e: DragEvent): void => {
    if (dragged.current && dayAt(e.target)) e.preventDefault();
  };
  const drop = (e: DragEvent): void => {
    const day = dayAt(e.target);
    const entry = dragged.current;
    dragged.current = null;
    if (!entry || !day) return;
    e.preventDefault();
    if (day !== entry.day) void move(entry, day, entry.seen);
  };
  const drags = may ? { onDragStart: begin, onDragOver: over, onDrop: drop } : {};
  return (
    <Move value={(e, day) => void move(e, day, e.seen)}>
      <section className="sheet overflow-hidden" aria-label={label} {...drags}>
        {children}
      </section>
    </Move>
  );
}

export function MoveButton({ day, name }: { day: string; name: string }) {
  const words = useWords();
  const move = useContext(Move);
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button
        type="button"
        className="btn btn-ghost btn-square size-6! shrink-0 opacity-60 focus-visible:opacity-100 group-hover:opacity-100"
        aria-label={`${words["calendar.move-to"]}: ${name}`}
        title={words["calendar.move-to"]}
        onClick={() => setOpen(true)}
      >
        <CalendarArrowUp size={13} aria-hidden />
      </button>
    );
  return (
    <input
      type="date"
      className="input input-xs w-36 shrink-0"
      aria-label={`${words["calendar.day"]}: ${name}`}
      defaultValue={day}
      ref={(el) => el?.focus()}
      onKeyDown={(e) => {
        if (e.key === "Escape") e.currentTarget.value = day;
        if (e.key === "Escape" || e.key === "Enter") e.currentTarget.blur();
      }}
      onBlur={(e) => {
        const entry = entryAt(e.currentTarget);
        const to = e.currentTarget.value;
        setOpen(false);
        if (entry && to && to !== day) move(entry, to);
      }}
    />
  );
}
