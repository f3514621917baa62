/** Paying: standing and features of companies, additions within an allowance, the nightly run, and events taken. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { monitorEventLoopDelay } from "node:perf_hooks";
import { Webhook } from "standardwebhooks";
import { termsOf } from "@/core/billing/quote";
import { system } from "@/core/events/event";
import { keepCustomer } from "@/data/billing/buyers";
import { hear } from "@/data/billing/heard";
import { store } from "@/data/billing/life";
import { keepMethod } from "@/data/billing/settle";
import { setSubscription, standingFrom, standings } from "@/data/billing/standing";
import { published, storePublished } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { createPortal } from "@/data/installation/portals";
import { runBilling } from "@/features/pay/run";
import { tillProvider } from "@/services/payments/till";
import { MemoryPayments } from "@/testing/payments";
import { testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { against, print, round } from "./measure";

const COMPANIES = 10_000;
const TODAY = "2026-06-15";
const NOW = Date.parse(`${TODAY}T03:00:00Z`);
const by = { actor: system("bench"), via: "job", at: NOW } as const;
const features = ["portal", "history", "reports"];

export async function benchBilling(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-billing-"));
  process.env.ELKHORN_DATA = folder;
  try {
    await companies();
    additions();
    await events();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const price = {
  id: "m",
  plan: "standard",
  cycle: "month",
  per: "company",
  amount: 18_000,
  least: 1,
  trialDays: 0,
  setup: 0,
  retired: false,
} as const;

function portal(slug: string): PortalFile {
  const made = createPortal(slug, "Bench", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const d = published(made.file).definition;
  const plan = { id: "standard", name: "Standard", about: "", features, allowances: [], seats: null, offered: "all" as const };
  storePublished(
    made.file,
    {
      ...d,
      features: features.map((id) => ({ id, name: id })),
      plans: [plan],
      prices: [price],
      billing: { ...d.billing, payers: ["lead"] },
    },
    PUBLISHER,
  );
  return made.file;
}

async function companies(): Promise<void> {
  const file = portal("nightly");
  const { definition } = published(file);
  const add = file.db.prepare("INSERT INTO t_companies (id, f_company_name, f_company_name_k, company_id) VALUES (?, ?, ?, ?)");
  file.db.transaction(() => {
    for (let i = 0; i < COMPANIES; i++) {
      const id = `c${i}`;
      add.run(id, `Company ${i}`, `company ${i}`, id);
      keepCustomer(file, id, "acc", `cus${i}`, NOW);
      keepMethod(file, id, "acc", { id: `way${i}`, words: "card" }, NOW);
      const life = {
        state: "active",
        terms: termsOf(price, 1),
        next: null,
        anchor: "2026-05-15",
        paidUntil: TODAY,
        graceUntil: null,
      } as const;
      store(
        file,
        { company: id, day: "2026-05-15", timeZone: "Europe/London", collect: "card", by: { ...by, at: NOW - 86_400_000 * 31 } },
        life,
      );
    }
  })();
  const row = file.db
    .prepare("SELECT plan, state, until, time_zone AS timeZone, collect FROM sys_subscriptions WHERE company_id = 'c7'")
    .get() as never;
  const one = against(
    () => standingFrom(definition, { row, opened: [] }, TODAY, null),
    () => {},
    { rounds: 41, times: 2_000 },
  );
  print({ name: "standing and features of a company, in memory", value: round(one.ours), unit: "us", goal: "5 at most" });
  // By hand: all that a standing needs, in one statement, and a set of features for each.
  const bare = file.db.prepare(`SELECT s.company_id, s.plan, s.state, s.until, s.time_zone, s.collect,
      (SELECT json_group_array(json_array(o.kind, o.ref, o.until)) FROM sys_opened o WHERE o.company_id = s.company_id) FROM sys_subscriptions s`);
  const all = against(
    () => {
      const found = standings(file, definition, TODAY);
      for (const c of found.companies) found.of(c);
    },
    () => {
      for (const r of bare.raw().all() as string[][]) new Set(r[2] === "lapsed" ? [] : features);
    },
    { rounds: 11, times: 1 },
  );
  print({
    name: `standings of ${COMPANIES} companies`,
    ratio: round(all.ratio),
    value: round(all.ours / 1000),
    unit: "ms; ratio to hand-written SQL",
    goal: "1.3 at most",
  });
  const lag = monitorEventLoopDelay({ resolution: 5 });
  lag.enable();
  const from = process.hrtime.bigint();
  const payments = new MemoryPayments();
  await runBilling(file, { account: "acc", payments }, () => NOW);
  lag.disable();
  const seconds = Number(process.hrtime.bigint() - from) / 1e9;
  if (payments.taken.length !== COMPANIES) throw new Error(`${payments.taken.length} of ${COMPANIES} were charged.`);
  print({ name: `nightly run of ${COMPANIES} renewals`, value: round(seconds), unit: "s", goal: "20 at most" });
  print({ name: "the page meanwhile: longest the thread was held", value: round(lag.max / 1e6), unit: "ms", goal: "alive (told)" });
}

/** An addition by a client with its audit row, within an allowance and where nothing counts. */
function additions(): void {
  const desk = (perMonth: number | null) => {
    const p = testPortal({ grants: [{ roles: ["lead"], table: "sites", actions: ["see", "add"], changes: ["name"] }] });
    const allowances = perMonth === null ? [] : [{ table: p.table("sites").id, perMonth, by: "month" as const, filter: null }];
    const plan = { id: "a", name: "A", about: "", features: [], allowances, seats: null, offered: "all" as const };
    storePublished(p.file, { ...published(p.file).definition, plans: [plan] }, PUBLISHER);
    const lead = p.person("Dana", "One", "lead");
    setSubscription(p.file, p.company("One"), { plan: "a", state: "active", until: null, timeZone: "UTC" }, by);
    const values = p.values("sites", { name: "Upper campus" });
    const again = p.again(lead);
    const add = (): void => {
      const done = again.add(p.table("sites"), values);
      if (!done.ok) throw new Error(JSON.stringify(done.error));
    };
    const used = (n: number) => {
      p.file.db.exec("DELETE FROM sys_allowance_uses");
      const line = p.file.db.prepare("INSERT INTO sys_allowance_uses (company_id, table_id, record_id, month, at) VALUES (?, ?, ?, ?, ?)");
      const month = new Date(lead.now).toISOString().slice(0, 7);
      p.file.db.transaction(() => {
        for (let i = 0; i < n; i++) line.run(p.company("One"), p.table("sites").id, `used${i}`, month, lead.now);
      })();
    };
    return { add, used };
  };
  const [counted, plain] = [desk(1_000_000), desk(null)];
  for (const [name, lines] of [
    ["adding within an allowance", 0],
    ["the same with 5000 used this month", 5_000],
  ] as const) {
    counted.used(lines);
    const r = against(counted.add, plain.add, { rounds: 61, times: 25 });
    print({
      name,
      ratio: round(r.ratio),
      value: round(r.ours),
      unit: "us; ratio to a plain add with its audit row",
      goal: "1.3 at most",
    });
  }
}

/** Verified by signature, written down once: as many at once as come in two seconds at 500 a second. */
async function events(): Promise<void> {
  const file = portal("events");
  const provider = tillProvider("http://localhost:9");
  const hook = `whsec_${Buffer.alloc(32, 7).toString("base64")}`;
  const signer = new Webhook(hook);
  const at = new Date();
  const made = Array.from({ length: 1_000 }, (_, i) => {
    const body = JSON.stringify({
      type: "charge",
      subject: `s${i}`,
      outcome: { state: "paid", reference: `r${i}`, payment: `p${i}`, amount: 1, currency: "GBP", method: null, why: null },
    });
    const headers = {
      "webhook-id": `evt_${i}`,
      "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
      "webhook-signature": signer.sign(`evt_${i}`, at, body),
    };
    return { body, headers };
  });
  const waits: number[] = [];
  const from = process.hrtime.bigint();
  const all: Promise<void>[] = [];
  for (const [i, e] of made.entries()) {
    all.push(
      (async () => {
        const began = performance.now();
        const known = provider.event(hook, e.headers, e.body);
        if (!known) throw new Error("It is not known.");
        await hear(file, { id: known.id, type: known.type, body: e.body, at: i });
        waits.push(performance.now() - began);
      })(),
    );
    // Five hundred a second, as evenly as a timer goes.
    const due = Number(from) / 1e6 + i * 2;
    while (Number(process.hrtime.bigint()) / 1e6 < due) await new Promise((next) => setTimeout(next, 1));
  }
  await Promise.all(all);
  const seconds = Number(process.hrtime.bigint() - from) / 1e9;
  waits.sort((a, b) => a - b);
  const kept = file.db.prepare("SELECT count(*) FROM sys_provider_events").pluck().get();
  if (kept !== made.length) throw new Error(`${kept} of ${made.length} were kept.`);
  print({
    name: "events verified and written down once, coming at 500 a second",
    value: Math.round(made.length / seconds),
    unit: "a second",
    goal: "500 at least",
  });
  print({
    name: "an event waits to stand in the file, 95 of 100",
    value: round(waits[Math.floor(waits.length * 0.95)]!),
    unit: "ms",
    goal: "20 at most",
  });
}
