/** Which columns stand where, from a view and the fields that there are. */
import { isLongText, isYesNo } from "@/core/schema/fields/natures";
import { type Field, kindOf } from "@/core/schema/types";
import type { View } from "@/data/views/views";

export interface Shown {
  readonly field: Field;
  readonly width: number;
  /** Where a frozen column stays, in pixels from the left; null for others. */
  readonly left: number | null;
}

export const NARROWEST = 60;
export const WIDEST = 900;
/** Before the first column: the box that chooses a row. */
export const BOX_WIDTH = 38;

const usual = (f: Field): number => (kindOf(f).numeric ? 120 : isLongText(f) ? 280 : isYesNo(f) ? 90 : 190);

/** All fields in the order of the view, those that it does not know last. */
export function ordered(fields: readonly Field[], view: View): Field[] {
  const known = view.columns.flatMap((c) => fields.find((f) => f.id === c.field) ?? []);
  return [...known, ...fields.filter((f) => !known.includes(f))];
}

export function shownColumns(fields: readonly Field[], view: View): Shown[] {
  const widths = new Map(view.columns.map((c) => [c.field, c.width]));
  let left = BOX_WIDTH;
  return ordered(fields, view)
    .filter((f) => !view.hidden.includes(f.id))
    .map((field, i) => {
      const width = Math.min(WIDEST, Math.max(NARROWEST, widths.get(field.id) ?? usual(field)));
      const at = i < view.frozen ? left : null;
      left += width;
      return { field, width, left: at };
    });
}

export const withWidth = (fields: readonly Field[], view: View, field: string, width: number): View => ({
  ...view,
  columns: ordered(fields, view).map((f) => {
    const own =
      f.id === field ? Math.round(Math.min(WIDEST, Math.max(NARROWEST, width))) : view.columns.find((c) => c.field === f.id)?.width;
    return own === undefined ? { field: f.id } : { field: f.id, width: own };
  }),
});

export function moved(fields: readonly Field[], view: View, field: string, by: -1 | 1): View {
  const all = ordered(fields, view).map((f) => view.columns.find((c) => c.field === f.id) ?? { field: f.id });
  const at = all.findIndex((c) => c.field === field);
  const to = at + by;
  if (at === -1 || to < 0 || to >= all.length) return view;
  const [one] = all.splice(at, 1);
  all.splice(to, 0, one!);
  return { ...view, columns: all };
}
