/** Guesses a column's type from all of its cells; whoever imports may change the guess. */

import { apart, currenciesOf } from "../money/currency";
import { isEmail, telephone, webAddress } from "../schema/fields/address";
import { readDate } from "../schema/fields/date";
import { readMoment } from "../schema/fields/date-time";
import type { DateOrder } from "../schema/fields/kind";
import { isMoment, isMoney, isNumber, isSummed } from "../schema/fields/natures";
import { MOST_DECIMALS } from "../schema/fields/number";
import { readYesNo } from "../schema/fields/yes-no";
import type { FieldType } from "../schema/types";
import { decimalsOf, isPlainWhole, markOf, readDecimal, scale } from "../text/decimal";

type Guessed =
  | "text"
  | "long-text"
  | "number"
  | "money"
  | "percent"
  | "date"
  | "date-time"
  | "email"
  | "telephone"
  | "web-address"
  | "yes-no"
  | "choice";

export interface ColumnGuess {
  readonly type: Extract<FieldType, Guessed>;
  readonly dateOrder: DateOrder;
  /** All orders in which every cell can be read as a date. */
  readonly orders: readonly DateOrder[];
  /** The different words of the column, as choices of a field; none where they are more, or longer, than a field may have. */
  readonly choices: readonly string[];
  /** Digits after the point that a number needs. */
  readonly decimals: number;
  /** The sign before the decimals, where the column shows it. */
  readonly mark: "." | "," | null;
  /** Years, and whatever else is four digits long throughout, are shown without grouping. */
  readonly plain: boolean;
  /** The sign or code beside amounts of money; empty where there is none. */
  readonly currency: string;
  readonly filled: number;
  readonly longest: number;
  /** Different values among the first that were looked at, as a share of those. */
  readonly distinct: number;
  /** Some of its different values, as they stand. */
  readonly values: readonly string[];
}

const MOST_CHOICES = 12;
/** A column with more different words cannot become choices, even on request. */
const MOST_OFFERED = 200;
const LONGEST_OFFERED = 120;
/** Longer texts are no choices. */
const LONGEST_CHOICE = 40;
/** No number, amount or date is written longer than this; what is, is not even tried. */
const LONGEST_SIMPLE = 100;
/** Values whose differences are counted. */
const MOST_WATCHED = 2_000;
/** Different values that are kept to be compared with names of records. */
const MOST_VALUES = 120;

const YEAR = /^[12]\d{3}$/;

/** Watches one column. A type that a single cell refutes is not tried again, so a long file costs little more than its reading. */
export class ColumnWatch {
  #filled = 0;
  #longest = 0;
  #decimals = 0;
  #signs = 0;
  #currency: string | null = null;
  #number = true;
  #percent = true;
  #money = true;
  #plain = true;
  #yesNo = true;
  /** Ones alone are figures: a version, a count. Whether one of both, or a word, has been met. */
  readonly #yesNoMet = new Set<string>();
  #email = true;
  #web = true;
  #telephone = true;
  #mark: "." | "," | null = null;
  #orders: DateOrder[] = ["iso", "day-first", "month-first"];
  #momentOrders: DateOrder[] = ["iso", "day-first", "month-first"];
  readonly #distinct = new Set<string>();

  see(cell: string): void {
    const text = cell.trim();
    if (text === "") return;
    this.#filled++;
    if (text.length > this.#longest) this.#longest = text.length;
    if (this.#filled <= MOST_WATCHED || this.#distinct.size <= MOST_OFFERED) this.#distinct.add(text);
    if (text.length > LONGEST_SIMPLE) {
      this.#number = this.#money = this.#yesNo = this.#email = this.#telephone = this.#percent = this.#plain = false;
      this.#orders = [];
      this.#momentOrders = [];
    }
    if (this.#number || this.#money || this.#percent) this.#seeFigure(text);
    this.#yesNo &&= readYesNo(text).ok;
    if (this.#yesNo) this.#yesNoMet.add(text === "0" || text === "1" ? text : "word");
    this.#email &&= isEmail(text);
    this.#web &&= /^https?:\/\//i.test(text) && webAddress.parse([text], { name: "", options: {} }).ok;
    this.#telephone &&= isTelephone(text);
    // Year first is read alike in every order.
    const iso = (this.#orders.length > 0 || this.#momentOrders.length > 0) && readDate(text, "iso").ok;
    if (this.#orders.length > 0 && !iso) this.#orders = this.#orders.filter((o) => o !== "iso" && readDate(text, o).ok);
    // A date in one word is the beginning of its day, too.
    if (this.#momentOrders.length > 0 && !(iso && !/\s/.test(text)) && !readMoment(text, {}).ok)
      this.#momentOrders = this.#momentOrders.filter((o) => o !== "iso" && readMoment(text, { order: o }).ok);
  }

  #seeFigure(text: string): void {
    // A number and an amount both, and no percent.
    if (isPlainWhole(text)) {
      this.#percent = false;
      this.#plain &&= YEAR.test(text);
      return;
    }
    const mark = markOf(text);
    // One column is written in one way: where two cells contradict each other, neither is a figure.
    if (mark && this.#mark && mark !== this.#mark) this.#number = this.#money = this.#percent = false;
    this.#mark ??= mark;
    if (this.#number) this.#seeNumber(text);
    if (this.#percent) this.#percent = text.endsWith("%") && readDecimal(text.slice(0, -1)).ok;
    if (this.#money) this.#seeMoney(text);
  }

  #seeNumber(text: string): void {
    const read = /^0\d/.test(text) ? null : readDecimal(text);
    const decimals = read?.ok ? decimalsOf(read.value) : 0;
    this.#number = read?.ok === true && decimals <= MOST_DECIMALS && scale(read.value, decimals).ok;
    this.#plain &&= YEAR.test(text);
    this.#decimals = Math.max(this.#decimals, decimals);
  }

  #seeMoney(text: string): void {
    const { amount, sign } = apart(text);
    const bare = amount.replace(/^\((.*)\)$/, "$1");
    // A single letter before digits is more often a code (R-101, K12) than a currency.
    this.#money = readDecimal(bare).ok && (sign === "" || (!/^\p{L}$/u.test(sign) && currenciesOf(sign).size > 0));
    if (sign === "" || !this.#money) return;
    this.#signs++;
    this.#currency ??= sign;
    // Two currencies in one column are no column of money.
    if (this.#currency.toUpperCase() !== sign.toUpperCase()) this.#money = false;
  }

  guess(): ColumnGuess {
    const n = this.#filled;
    const type = this.#type();
    const orders = isMoment({ type }) ? this.#momentOrders : this.#orders;
    const figure = isSummed({ type });
    return {
      type,
      dateOrder: n > 0 ? (orders[0] ?? "iso") : "iso",
      orders: n > 0 ? orders : [],
      choices: this.#distinct.size <= MOST_OFFERED && this.#longest <= LONGEST_OFFERED ? [...this.#distinct].sort() : [],
      decimals: isNumber({ type }) ? this.#neededDecimals() : 0,
      mark: figure ? this.#mark : null,
      plain: isNumber({ type }) && this.#plain,
      currency: isMoney({ type }) ? (this.#currency ?? "") : "",
      filled: n,
      longest: this.#longest,
      distinct: n === 0 ? 0 : this.#distinct.size / Math.min(n, MOST_WATCHED),
      values: spread([...this.#distinct], MOST_VALUES).map((v) => v.slice(0, 120)),
    };
  }

  /** "1.234" is a thousand and more where the column's decimals stand behind commas. */
  #neededDecimals = (): number =>
    this.#mark === "," ? Math.max(0, ...[...this.#distinct].map((t) => decimalsIn(t, ","))) : this.#decimals;

  #type(): Extract<FieldType, Guessed> {
    const n = this.#filled;
    if (n === 0) return "text";
    if (this.#orders.length > 0) return "date";
    if (this.#momentOrders.length > 0) return "date-time";
    if (this.#yesNo && (this.#yesNoMet.has("word") || this.#yesNoMet.size === 2)) return "yes-no";
    if (this.#money && this.#signs > 0) return "money";
    if (this.#percent) return "percent";
    if (this.#number) return "number";
    if (this.#email) return "email";
    if (this.#web) return "web-address";
    if (this.#telephone) return "telephone";
    const few = this.#distinct.size <= MOST_CHOICES && n >= 8 && this.#distinct.size * 3 <= n && this.#longest <= LONGEST_CHOICE;
    return few ? "choice" : this.#longest > 200 ? "long-text" : "text";
  }
}

/** At most `most` items, taken evenly from the whole list. */
const spread = <T>(all: readonly T[], most: number): T[] =>
  all.length <= most ? [...all] : Array.from({ length: most }, (_, i) => all[Math.floor((i * all.length) / most)]!);

function decimalsIn(text: string, mark: ","): number {
  const read = readDecimal(text, mark);
  return read.ok ? decimalsOf(read.value) : 0;
}

/** Seven digits and more that begin as telephone numbers do; whole numbers are numbers. */
const isTelephone = (text: string): boolean =>
  /^(?:\+|0|\()/.test(text) && text.replace(/\D/g, "").length >= 7 && telephone.parse([text], { name: "", options: {} }).ok;
