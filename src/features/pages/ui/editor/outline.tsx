"use client";
/** The page's sections in order: chosen, dragged, or moved by their own list of places (WCAG 2.5.7 and the keyboard want another way than dragging). */
import { DndContext, type DragEndEvent, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from "@dnd-kit/core";
import { Copy, GripVertical, Trash2 } from "lucide-react";
import { useId } from "react";
import { SECTION_KINDS } from "@/core/sections";
import type { Laid } from "./laid";

interface Props {
  sections: readonly Laid[];
  selected: string | null;
  onSelect: (id: string | null) => void;
  onPlace: (id: string, after: string | null) => void;
  onCopy: (id: string) => void;
  onDrop: (id: string) => void;
}

const nameOf = (x: Laid): string => x.section.title || x.name || SECTION_KINDS[x.section.kind].name;

export function Outline({ sections, selected, onSelect, onPlace, onCopy, onDrop }: Props) {
  const id = useId();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const ended = ({ active, over }: DragEndEvent): void => {
    if (!over || active.id === over.id) return;
    const from = sections.findIndex((x) => x.section.id === active.id);
    const to = sections.findIndex((x) => x.section.id === over.id);
    onPlace(String(active.id), to === 0 ? null : from < to ? String(over.id) : sections[to - 1]!.section.id);
  };
  return (
    <DndContext id={id} sensors={sensors} onDragEnd={ended}>
      <ol className="grid gap-0.5 [&>*]:min-w-0" aria-label="Sections of this page">
        {sections.map((x, i) => (
          <Line key={x.section.id} x={x} on={x.section.id === selected} onSelect={onSelect}>
            {x.section.id === selected && (
              <span className="flex flex-wrap items-center gap-1 pb-1 pl-6">
                <label>
                  <span className="sr-only">Move {nameOf(x)}</span>
                  <select
                    className="select select-xs w-auto"
                    value=""
                    onChange={(e) => onPlace(x.section.id, e.target.value === "top" ? null : e.target.value)}
                  >
                    <option value="">Move…</option>
                    {i > 0 && <option value="top">to the top</option>}
                    {i > 1 && <option value={sections[i - 2]!.section.id}>one up</option>}
                    {i < sections.length - 1 && <option value={sections[i + 1]!.section.id}>one down</option>}
                    {sections
                      .filter((y) => y.section.id !== x.section.id)
                      .map((y) => (
                        <option key={y.section.id} value={y.section.id}>
                          after {nameOf(y)}
                        </option>
                      ))}
                  </select>
                </label>
                <button type="button" className="btn btn-ghost btn-xs" onClick={() => onCopy(x.section.id)}>
                  <Copy size={12} aria-hidden /> Copy
                </button>
                <button type="button" className="btn btn-ghost btn-xs" onClick={() => onDrop(x.section.id)}>
                  <Trash2 size={12} aria-hidden /> Take away
                </button>
              </span>
            )}
          </Line>
        ))}
      </ol>
    </DndContext>
  );
}

function Line({ x, on, onSelect, children }: { x: Laid; on: boolean; onSelect: (id: string | null) => void; children: React.ReactNode }) {
  const drag = useDraggable({ id: x.section.id });
  const drop = useDroppable({ id: x.section.id });
  const said = x.problems[0] ?? x.hidden;
  return (
    <li
      ref={drop.setNodeRef}
      className={`rounded-field ${on ? "bg-primary/10" : ""} ${drop.isOver && !drag.isDragging ? "border-t-2 border-primary" : "border-t-2 border-transparent"}`}
    >
      <span
        ref={drag.setNodeRef}
        className={`flex items-center gap-1 ${drag.isDragging ? "opacity-60" : ""}`}
        style={drag.transform ? { transform: `translateY(${drag.transform.y}px)` } : undefined}
      >
        <span {...drag.listeners} className="cursor-grab touch-none p-1 opacity-50" aria-hidden>
          <GripVertical size={14} />
        </span>
        <button
          type="button"
          aria-pressed={on}
          className="min-h-8 min-w-0 grow truncate py-1 text-left text-sm"
          onClick={() => onSelect(on ? null : x.section.id)}
        >
          <span className={on ? "font-semibold" : ""}>{nameOf(x)}</span>{" "}
          {nameOf(x) !== SECTION_KINDS[x.section.kind].name && <span className="quiet">{SECTION_KINDS[x.section.kind].name}</span>}
        </button>
      </span>
      {said && (
        <p title={said} className={`truncate pr-2 pb-1 pl-6 text-xs ${x.problems.length > 0 ? "text-warning" : "quiet"}`}>
          {said}
        </p>
      )}
      {children}
    </li>
  );
}
