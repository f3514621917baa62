import { expect, it } from "vitest";
import { buyerOf, keepBuyer } from "@/data/billing/buyers";
import { lacksCountry } from "@/data/billing/due";
import { published } from "@/data/definition/published";
import { ownFolder } from "@/testing/folder";
import { noon, Paying } from "@/testing/paying";
import { act, companyAct, type Money } from "./acts";

ownFolder();

const PLAN = { kind: "plan", price: "small-m", seats: 1 } as const;

it("a renewal waits for it and charges nothing without tax; the agency sets it with a reason, and the renewal goes on", async () => {
  const w = new Paying();
  await w.buy(PLAN);
  const { file } = w.p;
  keepBuyer(file, w.company, { ...buyerOf(file, w.company)!, country: "" }, noon(w.today));
  await w.until("2026-03-02");
  expect([w.invoices().length, w.payments.taken.length, lacksCountry(file, w.company)]).toEqual([1, 1, true]);
  expect([...w.state().features]).toEqual(["small"]); // nobody is shut out for what the agency has to say
  const live = published(file);
  const p = { file, live, owner: w.p.owner, now: noon(w.today), staff: { name: "Olive" } } as unknown as Money;
  const asked = (input: object) => companyAct.parse({ reason: "told us by telephone", ...input }) as never;
  expect(act(p, w.company, asked({ act: "plan", price: "large-m", seats: 1 }))).toMatchObject({ ok: false });
  expect(act(p, w.company, asked({ act: "country", country: "GB" }))).toEqual({ ok: true });
  await w.run();
  expect(w.invoices().map((i) => i.t)).toEqual([1_200, 1_200]);
  expect(companyAct.safeParse({ act: "country", country: "gb", reason: "no reason" }).success).toBe(false);
});
