/**
 * A process to be killed: renews what is due in the portal of ELKHORN_DATA, charging kept cards at a Till over HTTP, and kills itself
 * (SIGKILL) where ELKHORN_DIE_AT says. With ELKHORN_MAKE, a list of customers at the Till, it makes the portal instead.
 */
import { readFileSync } from "node:fs";
import { termsOf } from "@/core/billing/quote";
import { system } from "@/core/events/event";
import { keepCustomer } from "@/data/billing/buyers";
import { store } from "@/data/billing/life";
import { keepMethod } from "@/data/billing/settle";
import { published, storePublished } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { atPoints } from "@/data/file/points";
import { createPortal } from "@/data/installation/portals";
import { runBilling } from "@/features/pay/run";
import { feedEvents } from "@/server/feeds";
import { tillProvider } from "@/services/payments/till";
import { PUBLISHER } from "@/testing/world";

feedEvents();

const NOW = Date.parse("2026-06-15T03:00:00Z");
const { ELKHORN_MAKE: customers, ELKHORN_TILL: till, ELKHORN_SECRET: secret, ELKHORN_DIE_AT: die = "" } = process.env;

function make(kept: { customer: string; method: string }[]): void {
  const made = createPortal("paying", "Paying", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  const d = published(file).definition;
  const price = {
    id: "m",
    plan: "p",
    cycle: "month",
    per: "company",
    amount: 1_999,
    least: 1,
    trialDays: 0,
    setup: 0,
    retired: false,
  } as const;
  storePublished(
    file,
    {
      ...d,
      plans: [{ id: "p", name: "Plan", about: "", features: [], allowances: [], seats: null, offered: "all" }],
      prices: [price],
      billing: { ...d.billing, payers: ["lead"] },
    },
    PUBLISHER,
  );
  const add = file.db.prepare("INSERT INTO t_companies (id, f_company_name, f_company_name_k, company_id) VALUES (?, ?, ?, ?)");
  const life = {
    state: "active",
    terms: termsOf(price, 1),
    next: null,
    anchor: "2026-05-15",
    paidUntil: "2026-06-15",
    graceUntil: null,
  } as const;
  const by = { actor: system("test"), via: "job", at: NOW } as const;
  for (const [i, { customer, method }] of kept.entries()) {
    const id = `c${i}`;
    add.run(id, id, id, id);
    keepCustomer(file, id, "acc", customer, NOW);
    keepMethod(file, id, "acc", { id: method, words: "card" }, NOW);
    store(file, { company: id, day: "2026-05-15", timeZone: "UTC", collect: "card", by }, life);
  }
}

if (customers) make(JSON.parse(readFileSync(customers, "utf8")));
else {
  const [where = "", times = "1"] = die.split(" x");
  let left = Number(times);
  atPoints((point) => {
    if (point === where && --left === 0) process.kill(process.pid, "SIGKILL");
  });
  const payments = tillProvider(till!).payments({ secret: secret!, mode: "test" });
  await runBilling(portalFile("paying")!, { account: "acc", payments }, () => NOW);
}
process.exit(0);
