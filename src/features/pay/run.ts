import { step } from "@/core/billing/subscription";
import { formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { customerOf } from "@/data/billing/buyers";
import { beginCharge } from "@/data/billing/charges";
import { openCheckouts } from "@/data/billing/checkouts";
import { invoiceDue, lacksCountry } from "@/data/billing/due";
import { notDone, noteDone } from "@/data/billing/heard";
import { isBeingPaid } from "@/data/billing/in-flight";
import { dueBy, type Life, noteNext, take } from "@/data/billing/life";
import { afterPaying } from "@/data/billing/settle";
import { subscriptionOf } from "@/data/billing/standing";
import { openInvoices, paperOf, voidInvoice, type Writing } from "@/data/billing/write-books";
import { Pace } from "@/data/definition/background";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { reached } from "@/data/file/points";
import { transact } from "@/data/file/transact";
import { dayWords } from "@/orders/letters";
import type { PaymentEvent } from "@/services/payments/contract";
import { chargeAgain } from "./begin";
import { chargeEnded, paymentFailed } from "./charging";
import type { Paying } from "./here";
import { settlePaid, takeEvent } from "./settling";

/** Companies that are worked on at once: each waits for the provider most of its time. */
const AT_ONCE = 24;
/** Of one company in one run: a clock that jumped over years catches up, and a mistake does not go on for ever. */
const MOST_STEPS = 40;
const ASK_AFTER_MS = 60_000;
const ASK_UNTIL_MS = 3 * 86_400_000;

const running = new WeakSet<PortalFile>();

/** One after the other for a portal; whoever comes meanwhile finds the work being done. `now` is asked again and again: it may take long. */
export async function runBilling(file: PortalFile, paying: Paying | null, now: () => number): Promise<void> {
  if (running.has(file)) return;
  running.add(file);
  try {
    if (paying) await askAgain(file, paying, now);
    if (paying) await chargeAgain(file, paying, now());
    for (const e of notDone(file, 500)) handle(file, e.id, e.body, now());
    // A day ahead of UTC is the latest that any zone has; each company's own day decides.
    const due = dueBy(file, dateIn(now(), "Pacific/Kiritimati"), 100_000);
    let next = 0;
    const pace = new Pace();
    const worker = async (): Promise<void> => {
      while (next < due.length) {
        await runCompany(file, due[next++]!, paying, now);
        // Pages are answered in between, also where the provider answers at once.
        if (pace.due()) await pace.rest(next, due.length);
      }
    };
    await Promise.all(Array.from({ length: Math.min(AT_ONCE, due.length) }, worker));
  } finally {
    running.delete(file);
  }
}

/** An event that was written down and not acted upon: the process was killed in between. */
export function handle(file: PortalFile, id: string, body: string, now: number): void {
  transact(file, () => {
    takeEvent(file, JSON.parse(body) as PaymentEvent, now);
    noteDone(file, id, now, null);
  });
}

/** Checkouts of which no word has come: the event may be lost. */
async function askAgain(file: PortalFile, { payments, account }: Paying, now: () => number): Promise<void> {
  for (const c of openCheckouts(file, now() - ASK_AFTER_MS, 50)) {
    if (c.account !== account || c.outside === null || c.madeAt < now() - ASK_UNTIL_MS) continue;
    const said = await payments.checkoutNow(c.outside);
    if (said.ok) settlePaid(file, c.id, said.value, now());
  }
}

async function runCompany(file: PortalFile, company: string, paying: Paying | null, now: () => number): Promise<void> {
  for (let n = 0; n < MOST_STEPS; n++) {
    const was = subscriptionOf(file, company);
    const day = was && dateIn(now(), was.timeZone);
    if (!was?.nextDay || !day || was.nextDay > day) return;
    if (!(await oneStep(file, company, paying, now))) return;
  }
}

/** False where nothing more can be done today. */
async function oneStep(file: PortalFile, company: string, paying: Paying | null, now: () => number): Promise<boolean> {
  const due = transact(file, () => beginStep(file, company, paying, now()));
  if (due !== "charge") return due === "went on";
  reached("renewal: asked");
  const charge = openCharge(file, company, now())!;
  const customer = paying && customerOf(file, company, paying.account);
  if (!paying || !customer?.method) return false;
  const paper = paperOf(file, charge.invoiceId)!;
  const said = await paying.payments.charge(
    {
      customer: customer.customer,
      method: customer.method,
      amount: paper.reckoned.due,
      currency: paper.currency,
      what: paper.number,
      reference: charge.id,
    },
    charge.id,
  );
  reached("renewal: answered");
  // The provider cannot be reached now: the next run asks again with the same key.
  if (!said.ok && said.error.when === "later") return false;
  const refused = { state: "refused", reference: charge.id, payment: null, amount: 0, currency: paper.currency, method: null } as const;
  chargeEnded(file, charge.id, said.ok ? said.value : { ...refused, why: said.error.message }, now());
  return true;
}

function openCharge(file: PortalFile, company: string, now: number): ReturnType<typeof beginCharge> | null {
  const [invoice] = openInvoices(file, company);
  return invoice && !isBeingPaid(file, company, invoice) ? beginCharge(file, invoice, company, now) : null;
}

/** In one transaction: what the day brings, up to what has to be asked of the provider. */
function beginStep(file: PortalFile, company: string, paying: Paying | null, now: number): "went on" | "charge" | "nothing" {
  const was = subscriptionOf(file, company);
  if (!was) return "nothing";
  const { definition } = published(file);
  const { grace } = definition.billing;
  const day = dateIn(now, was.timeZone);
  const by = { actor: { kind: "system", id: "payments" }, via: "job", at: now } as const;
  const life: Life = { company, day, timeZone: was.timeZone, collect: was.collect, by };
  const w: Writing = { actor: by.actor, at: now, day: dateIn(now, definition.portal.timeZone) };
  const s = was.life;
  if (s.state === "trial" && day < s.paidUntil) {
    const end = dayWords(file, s.paidUntil);
    const kept = was.collect === "card" && paying !== null && customerOf(file, company, paying.account)?.method;
    const after = kept ? "It is paid by your card from then on." : "Give a way to pay, and everything stays open.";
    record(file, { ...by, kind: "trial-ending", company, detail: end, told: { note: `The trial is over on ${end}. ${after}` } });
    noteNext(file, company, s.paidUntil);
    return "went on";
  }
  const next = step(s, { kind: "day" }, day, { grace });
  const ended = next && next.now.state === "lapsed" && s.state !== "lapsed";
  if (ended) {
    take(file, { ...life, note: (done) => `${done.why} It opens again at once when you pay.` }, { kind: "day" }, { grace });
    for (const i of openInvoices(file, company)) voidInvoice(file, i, w);
    return "went on";
  }
  const method = was.collect === "card" && paying ? (customerOf(file, company, paying.account)?.method ?? null) : null;
  if (s.state === "trial" && method === null) {
    const done = take(file, { ...life, note: (s) => s.why }, { kind: "unpayable" }, { grace });
    return done ? "went on" : "nothing";
  }
  if (s.state === "grace") return againInGrace(file, company, method, now);
  if (!next || next.due.length === 0) return "nothing";
  // What is free goes on by itself, without paper.
  if (next.due.every((l) => l.amount === 0) && openInvoices(file, company).length === 0) {
    afterPaying(file, company, w);
    return "went on";
  }
  // Whose tax cannot be told is not billed; the agency is told so on the page of money, and everything stays open meanwhile.
  if (openInvoices(file, company).length === 0 && lacksCountry(file, company)) return "nothing";
  const invoice = openInvoices(file, company)[0] ?? invoiceDue(file, company, next.due, w);
  const { due, total } = paperOf(file, invoice)!.reckoned;
  if (due === 0) {
    afterPaying(file, company, w);
    return "went on";
  }
  if (isBeingPaid(file, company, invoice)) return "nothing";
  if (method !== null) {
    beginCharge(file, invoice, company, now);
    return "charge";
  }
  const words = formatMoney(total, definition.portal.currency, definition.portal.locale);
  paymentFailed(
    file,
    company,
    was.collect === "outside" ? `${words} are due. Please pay them as agreed.` : `${words} are due, and no way to pay is kept.`,
    now,
  );
  return "went on";
}

function againInGrace(file: PortalFile, company: string, method: string | null, now: number): "went on" | "charge" | "nothing" {
  if (openCharge(file, company, now) === null) return "nothing";
  if (method !== null) return "charge";
  paymentFailed(file, company, "A payment is still due, and no way to pay is kept.", now);
  return "went on";
}
