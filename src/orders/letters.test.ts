/** Letters about money follow events that say what is told: to who pays for that company, and to no other company. */
import { expect, it } from "vitest";
import { type EventKind, kindsHeardBy } from "@/core/events/kinds";
import { keepBuyer } from "@/data/billing/buyers";
import { record } from "@/data/events/record";
import { outbox } from "@/data/messages/outbox";
import { type TestPortal, testPortal } from "@/testing/portal";

const sent = (p: TestPortal) =>
  outbox(p.file, p.owner, { page: 1 })
    .list.map((m) => `${m.occasion} ${m.email}`)
    .sort();

function portal() {
  const p = testPortal({ grants: [] });
  p.person("Dana", "One", "lead");
  p.person("Rafe", "Two", "lead");
  const one = p.company("One");
  const buyer = { name: "One", email: "accounts@one.example", address: "", country: "GB", taxNumber: "", reference: "" };
  keepBuyer(p.file, one, buyer, p.owner.now);
  const happens = (kind: EventKind, told?: { note: string; to?: { id: null; name: string; email: string }[] }) =>
    record(p.file, {
      actor: { kind: "system", id: "payments" },
      via: "job",
      at: p.owner.now,
      kind,
      company: one,
      ...(told ? { told } : {}),
    });
  return { p, happens };
}

const LETTERS = {
  "subscription-changed": "plan-changed",
  "payment-came": "paid",
  "order-refused": "paid",
  "method-kept": "plan-changed",
  "paid-outside": "paid",
  "payment-failed": "payment-due",
  "trial-ending": "trial-ends",
  "paid-back": "paid-back",
} as Record<string, string | undefined>;

it.each(kindsHeardBy("payers"))("%s: a letter where there is one of that kind, to where the company's invoices go", (kind) => {
  const { p, happens } = portal();
  happens(kind, { note: "What it is about" });
  const occasion = LETTERS[kind];
  expect(sent(p)).toEqual(occasion ? [`${occasion} accounts@one.example`] : []);
});

it("where nothing is to be told, nobody is; the same address gets it once, whoever it is named for", () => {
  const { p, happens } = portal();
  happens("payment-came");
  expect(sent(p)).toEqual([]);
  const buyer = { id: null, name: "Guest", email: "Guest@else.example" };
  happens("payment-came", { note: "Yours", to: [buyer, { ...buyer, email: "guest@ELSE.example" }] });
  expect(sent(p)).toEqual(["paid Guest@else.example"]);
});

it("no kind that the agency alone hears of is told about, even with words for it", () => {
  const { p, happens } = portal();
  for (const kind of kindsHeardBy("agency")) happens(kind, { note: "For nobody" });
  expect(sent(p)).toEqual([]);
});
