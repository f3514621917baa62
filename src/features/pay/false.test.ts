/** What people are told of their money is what happens to it. */

import { describe, expect, it } from "vitest";
import { beginCheckout, checkoutById } from "@/data/billing/checkouts";
import { addCredit } from "@/data/billing/credit";
import { nextPayment } from "@/data/billing/due";
import { published, storePublished } from "@/data/definition/published";
import { ownFolder } from "@/testing/folder";
import { noon, Paying, price } from "@/testing/paying";
import { must } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { begin } from "./begin";
import { offerHere } from "./quote";

ownFolder();

const plan = (price: string) => ({ kind: "plan", price, seats: 1 }) as const;
const ONCE = { kind: "offer", offer: "once", record: null, own: false } as const;

describe("the next payment", () => {
  it("is what is then charged: with its tax, what credit covers, and what was chosen for the end", async () => {
    const w = new Paying();
    await w.buy(plan("large-m"));
    w.today = "2026-02-10";
    await w.buy(plan("small-m"));
    addCredit(w.p.file, w.company, 300, "for the trouble", null, noon(w.today));
    const said = nextPayment(w.p.file, w.company);
    expect(said).toEqual({ day: "2026-02-28", due: 900 }); // 10.00 and 20 % of it, less 3.00
    await w.until("2026-02-28");
    expect(w.payments.taken.at(-1)!.amount).toBe(said!.due);
  });
  it("is none of what is cancelled", async () => {
    const w = new Paying();
    expect(nextPayment(w.p.file, w.company)).toBeNull();
  });
});

describe("the set-up fee", () => {
  it("is asked once: not of whoever comes back within 60 days, and again after that", async () => {
    const w = new Paying();
    const d = published(w.p.file).definition;
    storePublished(w.p.file, { ...d, prices: [...d.prices, price("set-up", "small", 1_000, { setup: 500 })] }, PUBLISHER);
    const fee = () => must(offerHere(w.request(), plan("set-up"), "GB")).bought.lines.length - 1;
    expect(fee()).toBe(1);
    await w.buy(plan("set-up"));
    w.payments.refuses = true;
    await w.until("2026-03-08");
    expect([w.state().state, fee()]).toEqual(["lapsed", 0]); // a day after
    w.today = "2026-04-29"; // 60 days after the 28th of February
    expect(fee()).toBe(0);
    w.today = "2026-04-30";
    expect(fee()).toBe(1);
  });
});

describe("what is had already is not sold", () => {
  it("a feature that the plan opens, or that was bought and is still open; it is sold again when it is over", async () => {
    const w = new Paying();
    await w.buy(plan("small-m"));
    await w.buy(ONCE);
    expect(offerHere(w.request(), ONCE, "GB")).toEqual({ ok: false, error: { no: "have-it" } });
    w.today = "2026-02-10"; // ten days, the last of them the 9th
    expect(offerHere(w.request(), ONCE, "GB").ok).toBe(true);
    await w.buy(plan("large-m"));
    expect(offerHere(w.request(), ONCE, "GB")).toEqual({ ok: false, error: { no: "have-it" } });
  });
  it("nor charged from a page that was opened before", async () => {
    const w = new Paying();
    await w.buy(plan("small-m"));
    const [one, two] = [w.order(ONCE, "tab-one-0123456789ab"), w.order(ONCE, "tab-two-0123456789ab")];
    await w.begun(one);
    const taken = w.payments.taken.length;
    const how = { now: noon(w.today), other: false, payer: true, key: null };
    expect((await begin(w.p.file, w.till(), checkoutById(w.p.file, two.id)!, how)).ok).toBe(false);
    expect(w.payments.taken.length).toBe(taken);
  });
  it("a record that everybody sees, or that the plan opens; one that is locked is sold, once", async () => {
    const w = new Paying();
    const { p } = w;
    const d = published(p.file).definition;
    const table = p.table("sites").id;
    const grants = d.grants.map((g, i) => (i === 0 ? { ...g, fields: [p.field("sites", "name")] } : g));
    const one = { id: "one", name: "One site", about: "", price: 400, buyer: "company" as const, retired: false };
    const bought = { kind: "test" as const, path: [], operator: "is" as const, operands: [] };
    void bought;
    storePublished(
      p.file,
      { ...d, grants, offers: [...d.offers, { ...one, opens: { kind: "record" as const, table, days: null } }] },
      PUBLISHER,
    );
    const site = p.add("sites", { name: "Hall", company: p.company("One") });
    const wanted = { kind: "offer", offer: "one", record: site, own: false } as const;
    // No grant opens more of it to whoever bought it: there is nothing to sell.
    expect(offerHere(w.request(), wanted, "GB")).toEqual({ ok: false, error: { no: "have-it" } });
  });
});

it("two who buy for themselves do not stand in each other's way", () => {
  const w = new Paying();
  const own = { ...ONCE, own: true } as const;
  for (const name of ["Dana", "Lois"]) {
    const r = w.request(name);
    const { bought } = must(offerHere(r, own, "GB"));
    const buyer = { name, email: "x@t.example", address: "", country: "GB", taxNumber: "", reference: "" };
    const c = beginCheckout(w.p.file, {
      filling: `own-${name}-0123456789`,
      company: w.company,
      person: r.viewer.person!.id,
      email: buyer.email,
      bought: { ...bought, buyer },
      account: "acc",
      back: "/",
      now: noon(w.today),
    });
    expect(c).not.toBeNull();
  }
});
