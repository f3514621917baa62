/** The books: numbers without a gap, payments once, refunds no further than was paid, and who reads any of it. */
import { beforeEach, describe, expect, it } from "vitest";
import { reckon } from "@/core/billing/invoice";
import { system } from "@/core/events/event";
import { INVOICES, LINES, ORDERS, PAYMENTS } from "@/core/schema/books";
import { published, storePublished } from "@/data/definition/published";
import type { Desk } from "@/data/records/desk";
import { type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { currencyOfBooks } from "../tables/books-tables";
import { addCredit, creditOf } from "./credit";
import { claim, orderFacts } from "./orders";
import {
  addInvoice,
  addOrder,
  openInvoices,
  paperOf,
  payBack,
  payInvoice,
  refundable,
  stateOfInvoice,
  voidInvoice,
  type Writing,
} from "./write-books";

let p: TestPortal;
const on = (day: string): Writing => ({ actor: system("test"), at: Date.parse(`${day}T10:00:00Z`), day });
const DAY = on("2026-06-15");
const buyer = { name: "One", email: "a@t.example", address: "", country: "GB", taxNumber: "", reference: "" };

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead"], table: "sites" },
      { roles: ["looker"], table: "sites" },
      { roles: ["staff"], table: "sites" },
    ],
  });
  const d = published(p.file).definition;
  storePublished(
    p.file,
    {
      ...d,
      features: [{ id: "f", name: "f" }],
      offers: [
        {
          id: "book",
          name: "Handbook",
          about: "",
          price: 1_000,
          buyer: "anybody",
          opens: { kind: "feature", feature: "f", days: 5 },
          retired: false,
        },
      ],
      billing: { ...d.billing, payers: ["lead"], numbers: "X-" },
    },
    PUBLISHER,
  );
});

function invoice(company: string | null, amount = 1_000, w = DAY, more: { person?: string; credit?: number } = {}): string {
  const reckoned = reckon([{ text: "A thing", amount }], "exclusive", { rate: 2_000 }, more.credit ?? 0);
  const tax = { mode: "exclusive" as const, name: "VAT", rate: 2_000 };
  const of = company && p.company(company);
  return addInvoice(p.file, { what: "A thing", company: of, person: more.person ?? null, order: null, buyer, tax, reckoned, due: w.day }, w)
    .id;
}

describe("invoices", () => {
  it("are numbered without a gap, anew each year, also where one is taken back in its transaction", () => {
    const numbers = [invoice("One"), invoice("Two")].map((id) => paperOf(p.file, id)!.number);
    const failed = p.file.db.transaction(() => {
      invoice("One");
      throw new Error("taken back");
    });
    expect(failed).toThrow("taken back");
    numbers.push(...[invoice("One"), invoice("One", 5, on("2027-01-01"))].map((id) => paperOf(p.file, id)!.number));
    expect(numbers).toEqual(["X-2026-0001", "X-2026-0002", "X-2026-0003", "X-2027-0001"]);
  });
  it("are paid by one payment once, and what was open is not open any more", () => {
    const id = invoice("One");
    expect(openInvoices(p.file, p.company("One"))).toEqual([id]);
    const paid = { outside: "pay-1", amount: 1_200, by: "card" };
    expect([payInvoice(p.file, id, paid, DAY), payInvoice(p.file, id, paid, DAY)]).toEqual([true, false]);
    expect([stateOfInvoice(p.file, id), openInvoices(p.file, p.company("One"))]).toEqual(["paid", []]);
  });
  it("go back in parts, each with its credit note, and no further than they were paid", () => {
    const id = invoice("One");
    payInvoice(p.file, id, { outside: "pay-1", amount: 1_200, by: "card" }, DAY);
    expect(payBack(p.file, "pay-1", 1_201, "too much", DAY)).toBeNull();
    expect(payBack(p.file, "pay-1", 400, "a third", DAY)?.number).toBe("X-C2026-0001");
    expect([stateOfInvoice(p.file, id), refundable(p.file, id)]).toEqual(["partly-paid-back", [{ outside: "pay-1", left: 800 }]]);
    expect([
      payBack(p.file, "pay-1", 801, "too much", DAY),
      payBack(p.file, "pay-1", 0, "nothing", DAY),
      payBack(p.file, "nobody's", 1, "x", DAY),
    ]).toEqual([null, null, null]);
    expect(payBack(p.file, "pay-1", 800, "the rest", DAY)).not.toBeNull();
    expect([stateOfInvoice(p.file, id), refundable(p.file, id)]).toEqual(["paid-back", []]);
    const sums = p.file.db.prepare(`SELECT sum(f_invoice_total) AS total, sum(f_invoice_tax) AS tax FROM ${INVOICES}`).get();
    expect(sums).toEqual({ total: 0, tax: 0 });
  });
  it("use a company's credit, and give it back where they are void", () => {
    const company = p.company("One");
    addCredit(p.file, company, 500, "given", null, DAY.at);
    const id = invoice("One", 1_000, DAY, { credit: 500 });
    expect([creditOf(p.file, company), paperOf(p.file, id)!.reckoned.due]).toEqual([0, 700]);
    voidInvoice(p.file, id, DAY);
    expect([creditOf(p.file, company), stateOfInvoice(p.file, id)]).toEqual([500, "void"]);
  });
  it("stay in the currency that they began in", () => {
    expect(currencyOfBooks(p.file)).toBe("GBP");
  });
});

describe("who reads them", () => {
  const seen = (d: Desk): number[] =>
    [ORDERS, INVOICES, LINES, PAYMENTS].map((book) => {
      const table = published(p.file).policy.schema.table(book);
      return d.may(table, "see") ? d.count(table) : -1;
    });
  it("payers of the company; a person what is their own; nobody of another company, no visitor, no agency role without a grant", () => {
    const [dana, lo, rafe, ines] = [
      p.person("Dana", "One", "lead"),
      p.person("Lo", "One", "looker"),
      p.person("Rafe", "Two", "lead"),
      p.person("Ines", null, "staff"),
    ];
    const own = lo.viewer.person!.id;
    addOrder(
      p.file,
      { what: "A thing", buyer: "company", company: p.company("One"), person: dana.viewer.person!.id, email: "a@t.example", total: 1 },
      DAY,
    );
    addOrder(p.file, { what: "Mine", buyer: "person", company: p.company("One"), person: own, email: "lo@t.example", total: 1 }, DAY);
    addOrder(p.file, { what: "A guest's", buyer: "guest", company: null, person: null, email: "g@t.example", total: 1 }, DAY);
    const paid = invoice("One");
    payInvoice(p.file, paid, { outside: "pay-1", amount: 1_200, by: "card" }, DAY);
    invoice("One", 5, DAY, { person: own });
    invoice("Two");
    invoice(null);
    expect([seen(dana), seen(lo), seen(rafe), seen(p.visitor()), seen(ines)]).toEqual([
      [2, 2, 2, 1],
      [1, 1, -1, -1],
      [0, 1, 1, 0],
      [-1, -1, -1, -1],
      [-1, -1, -1, -1],
    ]);
    const table = published(p.file).policy.schema.table(INVOICES);
    const values = { f_invoice_state: "paid" };
    for (const d of [dana, lo, rafe, ines, p.owners as never as Desk]) {
      expect(d.add(table, values).ok).toBe(false);
      expect(d.change(table, paid, values, null).ok).toBe(false);
      expect(d.remove(table, paid).ok).toBe(false);
    }
    // Nor by a filter that leads over a line to another's invoice.
    const lines = published(p.file).policy.schema.table(LINES);
    const total = {
      kind: "test",
      path: ["f_line_invoice", "f_invoice_total"],
      operator: "more-than",
      operands: [{ kind: "literal", value: 0 }],
    } as const;
    expect(rafe.list(lines, { condition: total as never, limit: 10 }).records).toHaveLength(1);
  });
});

it("a guest's order is taken along once, with its invoice; what it opens is open to that person alone", () => {
  const lo = p.person("Lo", "One", "looker");
  const rafe = p.person("Rafe", "Two", "lead");
  const order = addOrder(
    p.file,
    { what: "Handbook", buyer: "guest", company: null, person: null, email: "g@t.example", total: 1_200 },
    DAY,
  );
  const reckoned = reckon([{ text: "Handbook", amount: 1_000 }], "none", null);
  addInvoice(
    p.file,
    {
      what: "Handbook",
      company: null,
      person: null,
      order: order.id,
      buyer,
      tax: { mode: "none", name: "", rate: 0 },
      reckoned,
      due: DAY.day,
    },
    DAY,
  );
  const bought = { wanted: { kind: "offer", offer: "book", record: null, own: false }, records: [] };
  p.file.db
    .prepare(
      "INSERT INTO sys_checkouts (id, filling, state, email, body, account, back, made_at, order_id) VALUES ('c', 'f', 'done', 'g', ?, 'a', '/', 0, ?)",
    )
    .run(JSON.stringify(bought), order.id);
  const by = (d: Desk) => ({ company: d.viewer.company!.id, person: d.viewer.person!.id, actor: system("test"), now: p.owner.now });
  expect([claim(p.file, order.id, by(lo)), claim(p.file, order.id, by(rafe)), claim(p.file, "nothing", by(lo))]).toEqual([
    true,
    false,
    false,
  ]);
  expect(orderFacts(p.file, order.id)?.company).toBe(p.company("One"));
  expect([
    [...p.again(lo).viewer.features],
    [...p.again(rafe).viewer.features],
    [...p.person("Dana", "One", "lead").viewer.features],
  ]).toEqual([["f"], [], []]);
});
