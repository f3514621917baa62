/** Blocks of cells: what is chosen, and what goes to and from a spreadsheet. */
import Papa from "papaparse";

export interface At {
  readonly row: number;
  readonly col: number;
}
export interface Block {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

export const blockOf = (a: At, b: At): Block => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.col, b.col),
  right: Math.max(a.col, b.col),
});
export const within = (b: Block, row: number, col: number): boolean => row >= b.top && row <= b.bottom && col >= b.left && col <= b.right;

/** Tabs between cells, and quotes around what holds one: as spreadsheets put a block on the clipboard (common practice, no source). */
export const blockText = (cells: readonly (readonly string[])[]): string =>
  Papa.unparse(
    cells.map((r) => [...r]),
    { delimiter: "\t", newline: "\n" },
  );

export function readBlock(text: string): string[][] {
  const whole = text.replace(/\r?\n$/, "");
  return Papa.parse<string[]>(whole, { delimiter: "\t" }).data;
}
