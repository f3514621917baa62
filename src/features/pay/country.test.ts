import { describe, expect, it } from "vitest";
import { billingSchema, NO_BILLING, newRate } from "@/core/definition/parts/plans";
import { countriesIn } from "@/core/text/countries";
import { ownFolder } from "@/testing/folder";
import { Paying } from "@/testing/paying";
import { must } from "@/testing/portal";
import { countryHere, offerHere } from "./quote";

ownFolder();

const PLAN = { kind: "plan", price: "small-m", seats: 1 } as const;
const OWN = { kind: "offer", offer: "once", record: null, own: true } as const;

it("an owner's rate of every country (ISO 3166-1, as CLDR names them) is taken as it is begun", () => {
  const rates = countriesIn("en").map((c) => newRate(c.code));
  expect(rates.length).toBeGreaterThan(240);
  expect(billingSchema.safeParse({ ...NO_BILLING, tax: { mode: "exclusive", rates } }).success).toBe(true);
});

describe("the country that the tax depends on", () => {
  it("is asked before any sum is shown, and no sum comes without it", () => {
    const w = new Paying();
    expect(offerHere(w.request(), PLAN, "")).toEqual({ ok: false, error: { no: "country" } });
    expect(must(offerHere(w.request(), PLAN, "GB")).bought.reckoned.tax).toBe(200);
    expect(must(offerHere(w.request(), PLAN, "FR")).bought.reckoned.tax).toBe(0);
  });

  it("is the company's once it is known: whatever a payer sends, the tax stays; for oneself it is one's own", async () => {
    const w = new Paying();
    await w.buy(PLAN);
    const r = w.request();
    for (const said of ["FR", "", "ZZZ", "us"]) expect([said, countryHere(r, { ...PLAN, price: "large-m" }, said)]).toEqual([said, "GB"]);
    expect(countryHere(r, OWN, "FR")).toBe("FR");
    expect(countryHere(r, OWN, "nowhere")).toBe("");
  });
});
