/** Guesses a column's type from all of its cells; whoever imports may change the guess. */
import type { FieldType } from "../schema/types";
import { readDate, readMoney, readNumber, readYesNo } from "./cells";

/** How the day and month stand in dates like 3/4/2026; settled by the whole column, not by one cell. */
export type DateOrder = "iso" | "day-first" | "month-first";

export interface ColumnGuess {
  readonly type: Exclude<FieldType, "relation" | "relations" | "choices">;
  readonly dateOrder: DateOrder;
  readonly choices: readonly string[];
  readonly filled: number;
  readonly longest: number;
}

const MOST_CHOICES = 12;

export class ColumnWatch {
  #filled = 0;
  #longest = 0;
  #number = 0;
  #money = 0;
  #symbol = 0;
  #yesNo = 0;
  #date: Record<DateOrder, number> = { iso: 0, "day-first": 0, "month-first": 0 };
  readonly #distinct = new Set<string>();

  see(cell: string): void {
    const text = cell.trim();
    if (text === "") return;
    this.#filled++;
    this.#longest = Math.max(this.#longest, text.length);
    if (this.#distinct.size <= MOST_CHOICES) this.#distinct.add(text);
    if (text.length > 30) return;
    if (readNumber(text).ok && !/^0\d/.test(text)) this.#number++;
    if (readMoney(text, "GBP").ok) {
      this.#money++;
      if (/[£$€¥]/.test(text)) this.#symbol++;
    }
    if (readYesNo(text).ok) this.#yesNo++;
    for (const order of ["iso", "day-first", "month-first"] as const) if (readDate(text, order).ok) this.#date[order]++;
  }

  guess(): ColumnGuess {
    const n = this.#filled;
    const order = (["iso", "day-first", "month-first"] as const).find((o) => this.#date[o] === n && n > 0);
    const few = this.#distinct.size <= MOST_CHOICES && n >= 8 && this.#distinct.size * 3 <= n && this.#longest <= 40;
    const type =
      n === 0 ? "text"
      : order ? "date"
      : this.#yesNo === n && this.#distinct.size <= 2 ? "yes-no"
      : this.#symbol > 0 && this.#money === n ? "money"
      : this.#number === n ? "number"
      : few ? "choice"
      : this.#longest > 200 ? "long-text"
      : "text";
    return { type, dateOrder: order ?? "iso", choices: type === "choice" ? [...this.#distinct].sort() : [], filled: n, longest: this.#longest };
  }
}
