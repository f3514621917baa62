/** Guesses a column's type from all of its cells; whoever imports may change the guess. */

import { readDate } from "../schema/fields/date";
import { decimalsOf, readDecimal, scale } from "../schema/fields/decimal";
import { readMoney } from "../schema/fields/money";
import { MOST_DECIMALS } from "../schema/fields/number";
import { readYesNo } from "../schema/fields/yes-no";
import type { FieldType } from "../schema/types";

/** How the day and month stand in dates like 3/4/2026; settled by the whole column, not by one cell. */
export type DateOrder = "iso" | "day-first" | "month-first";

export interface ColumnGuess {
  readonly type: Exclude<FieldType, "relation" | "relations" | "choices">;
  readonly dateOrder: DateOrder;
  readonly choices: readonly string[];
  /** Digits after the point that a number needs. */
  readonly decimals: number;
  readonly filled: number;
  readonly longest: number;
}

const MOST_CHOICES = 12;
/** Longer texts are no choices. */
const LONGEST_CHOICE = 40;
/** No number, amount or date is written longer than this; what is, is not even tried. */
const LONGEST_SIMPLE = 100;

/** Watches one column. A type that a single cell refutes is not tried again, so a long file costs little more than its reading. */
export class ColumnWatch {
  #filled = 0;
  #longest = 0;
  #decimals = 0;
  #symbol = false;
  #number = true;
  #money = true;
  #yesNo = true;
  #orders: DateOrder[] = ["iso", "day-first", "month-first"];
  readonly #distinct = new Set<string>();

  see(cell: string): void {
    const text = cell.trim();
    if (text === "") return;
    this.#filled++;
    if (text.length > this.#longest) this.#longest = text.length;
    if (text.length > LONGEST_SIMPLE) {
      this.#number = this.#money = this.#yesNo = false;
      this.#orders = [];
      return;
    }
    if (this.#distinct.size <= MOST_CHOICES) this.#distinct.add(text);
    if (this.#number) this.#seeNumber(text);
    if (this.#money) {
      this.#money = readMoney(text, "GBP").ok;
      this.#symbol ||= this.#money && /[£$€¥]/.test(text);
    }
    this.#yesNo &&= readYesNo(text).ok;
    // Year first is read alike in every order.
    if (this.#orders.length > 0 && !readDate(text, "iso").ok)
      this.#orders = this.#orders.filter((o) => o !== "iso" && readDate(text, o).ok);
  }

  #seeNumber(text: string): void {
    const read = /^0\d/.test(text) ? null : readDecimal(text);
    const decimals = read?.ok ? decimalsOf(read.value) : 0;
    this.#number = read?.ok === true && decimals <= MOST_DECIMALS && scale(read.value, decimals).ok;
    this.#decimals = Math.max(this.#decimals, decimals);
  }

  guess(): ColumnGuess {
    const n = this.#filled;
    const [order] = this.#orders;
    const few = this.#distinct.size <= MOST_CHOICES && n >= 8 && this.#distinct.size * 3 <= n && this.#longest <= LONGEST_CHOICE;
    const type =
      n === 0
        ? "text"
        : order
          ? "date"
          : this.#yesNo
            ? "yes-no"
            : this.#symbol && this.#money
              ? "money"
              : this.#number
                ? "number"
                : few
                  ? "choice"
                  : this.#longest > 200
                    ? "long-text"
                    : "text";
    return {
      type,
      dateOrder: n > 0 ? (order ?? "iso") : "iso",
      choices: type === "choice" ? [...this.#distinct].sort() : [],
      decimals: type === "number" ? this.#decimals : 0,
      filled: n,
      longest: this.#longest,
    };
  }
}
