import { expect, it } from "vitest";
import { actingOf } from "@/data/people/acting";
import { ownFolder } from "@/testing/folder";
import { Paying } from "@/testing/paying";
import { unpaidHere } from "./unpaid";

ownFolder();

it("a company without a plan is led to the plans by who may pay, and told who can by who may not; afterwards neither", async () => {
  const w = new Paying();
  const told = (name: string, role: string) => {
    const r = w.request(name, role);
    return unpaidHere({ ...r, memberships: actingOf(w.p.file, r.viewer.person!.id)!.memberships });
  };
  const both = () => [told("Dana", "lead"), told("Wren", "looker")];
  expect(both()).toEqual([
    { why: "home.plan-none", pays: true },
    { why: "home.plan-none", pays: false },
  ]);
  await w.buy({ kind: "plan", price: "small-m", seats: 1 });
  expect(both()).toEqual([null, null]);
  w.payments.refuses = true;
  await w.until("2026-04-30");
  expect([w.state().state, both()[1]]).toEqual(["lapsed", { why: "home.plan-over", pays: false }]);
  expect(unpaidHere({ ...w.request(), memberships: [] })).toBeNull(); // of no company here
});
