"use client";
/** The board itself. A card is dragged, or moved by its own list of places: one pointer is enough, and so is a keyboard (WCAG 2.5.7). */
import { DndContext, type DragEndEvent, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from "@dnd-kit/core";
import { useRouter } from "next/navigation";
import { type ReactNode, useId, useState } from "react";
import { answerOf } from "@/ui/answered";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { placeValue } from "../../records/act-actions";

interface Card {
  id: string;
  name: string;
  movable: boolean;
  /** The validator of the record as it was shown. */
  seen: string;
  shown: ReactNode;
}
interface Column {
  id: string;
  name: string;
  tone: string | null;
  count: string;
  more: string | null;
  cards: Card[];
}
interface Props {
  label: string;
  /** Level of the columns' headings. */
  level: "h2" | "h3";
  table: string;
  field: string;
  acting: string;
  closed: boolean;
  columns: Column[];
}

export function BoardColumns({ label, level, table, field, acting, closed, columns }: Props) {
  const words = useWords();
  const router = useRouter();
  const [moved, setMoved] = useState<Readonly<Record<string, string>>>({});
  const id = useId();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const place = (card: Card): string => moved[card.id] ?? columns.find((c) => c.cards.some((x) => x.id === card.id))!.id;

  const move = async (card: Card, from: string, to: string, seen: string | null): Promise<boolean> => {
    setMoved((m) => ({ ...m, [card.id]: to }));
    const answer = await answerOf(placeValue({ table, record: card.id, field, acting, seen, values: [to] }));
    if (answer?.ok) {
      const { seen: now } = answer;
      sayBelow({
        words: `${card.name}: ${columns.find((c) => c.id === to)?.name ?? ""}`,
        tone: "good",
        undo: async () => ((await move(card, to, from, now)) ? words["said.back"] : ""),
      });
      router.refresh();
    } else {
      setMoved(({ [card.id]: _gone, ...rest }) => rest);
      sayBelow({ words: answer?.message ?? words["answer.none"], tone: "trouble" });
      if (answer && "stale" in answer) router.refresh();
    }
    return answer?.ok ?? false;
  };
  const ended = ({ active, over }: DragEndEvent): void => {
    const card = columns.flatMap((c) => c.cards).find((x) => x.id === active.id);
    const to = over ? String(over.id).slice(2) : null;
    if (card && to !== null && to !== place(card)) void move(card, place(card), to, card.seen);
  };
  return (
    <DndContext id={id} sensors={sensors} onDragEnd={ended}>
      <section aria-label={label} className="quiet-scroll flex snap-x items-start gap-4 overflow-x-auto pb-2">
        {columns.map((column) => (
          <ColumnBox key={column.id} column={column} level={level}>
            {columns
              .flatMap((c) => c.cards)
              .filter((card) => place(card) === column.id)
              .map((card) => (
                <CardBox key={card.id} card={card} closed={closed}>
                  {card.movable && (
                    <label className="text-sm">
                      <span className="sr-only">{`${words["board.place"]}: ${card.name}`}</span>
                      <select
                        className="select select-xs"
                        value={column.id}
                        disabled={closed}
                        onChange={(e) => void move(card, column.id, e.target.value, card.seen)}
                      >
                        {columns.map((c) => (
                          <option key={c.id} value={c.id} disabled={c.id === ""}>
                            {c.name}
                          </option>
                        ))}
                      </select>
                    </label>
                  )}
                </CardBox>
              ))}
            {column.more && <li className="quiet px-1 text-sm">{column.more}</li>}
          </ColumnBox>
        ))}
      </section>
    </DndContext>
  );
}

function ColumnBox({ column, level: Level, children }: { column: Column; level: "h2" | "h3"; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: `c-${column.id}`, disabled: column.id === "" });
  return (
    <section
      ref={setNodeRef}
      aria-label={column.name}
      className={`min-w-56 flex-1 snap-start rounded-box border p-2 max-sm:min-w-[82vw] ${isOver ? "border-primary bg-primary/5" : "border-base-300 bg-base-300/25"}`}
    >
      <Level className="flex items-baseline justify-between gap-2 px-1 pb-2 text-base font-semibold">
        <span className={column.tone ? `tone tone-${column.tone}` : ""}>{column.name}</span>
        <span className="quiet text-sm font-normal tabular-nums">{column.count}</span>
      </Level>
      <ul className="grid gap-2">{children}</ul>
    </section>
  );
}

function CardBox({ card, closed, children }: { card: Card; closed: boolean; children: ReactNode }) {
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({ id: card.id, disabled: !card.movable || closed });
  return (
    <li
      ref={setNodeRef}
      {...listeners}
      className={`sheet grid gap-1.5 p-3 ${card.movable && !closed ? "cursor-grab touch-manipulation" : ""} ${isDragging ? "relative z-10 opacity-90 shadow-lg" : ""}`}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
    >
      {card.shown}
      {children}
    </li>
  );
}
