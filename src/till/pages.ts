/** The Till's own pages: where a card is given, the second step, and its desk with test cards, accounts and events. Plain, and of its own look. */
import { CARDS } from "./cards";
import type { AccountRow, Faults } from "./store";
import type { CheckoutBody } from "./work";

const escaped = (s: string): string =>
  s.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;").replaceAll("'", "&#39;");

const STYLE = `:root{color-scheme:light dark;--ink:#1d2330;--ground:#eceee6;--paper:#fffdf6;--line:#c9c7b8;--go:#31572c}
@media(prefers-color-scheme:dark){:root{--ink:#ece9dd;--ground:#171a16;--paper:#22261f;--line:#454a3e;--go:#a3c585}}
*{box-sizing:border-box}body{margin:0;background:var(--ground);color:var(--ink);font:16px/1.5 ui-monospace,SFMono-Regular,Menlo,monospace}
main{max-width:30rem;margin:0 auto;padding:2.5rem 1rem}main.wide{max-width:60rem}
.roll{background:var(--paper);border:1px solid var(--line);border-radius:.25rem;padding:1.5rem;margin-bottom:1.5rem}
h1{font-size:1.15rem;margin:0 0 .25rem}h2{font-size:1rem;margin:0 0 .75rem}p{margin:.25rem 0 1rem}
.sum{display:flex;justify-content:space-between;gap:1rem;border-top:1px dashed var(--line);border-bottom:1px dashed var(--line);padding:.75rem 0;margin:1rem 0;font-weight:700}
label{display:block;margin:0 0 1rem;font-weight:600}input,select{display:block;width:100%;margin-top:.25rem;padding:.6rem;font:inherit;color:inherit;background:transparent;border:1px solid var(--ink);border-radius:.2rem}
.pair{display:grid;grid-template-columns:1fr 1fr;gap:1rem}button{font:inherit;font-weight:700;padding:.7rem 1.1rem;border:0;border-radius:.2rem;background:var(--go);color:var(--paper);cursor:pointer}
button.plain{background:transparent;color:inherit;border:1px solid currentColor}a{color:inherit}.wrong{border-left:.3rem solid #b3261e;padding-left:.75rem}
table{border-collapse:collapse;width:100%;font-size:.85rem}td,th{text-align:left;padding:.35rem .5rem;border-bottom:1px solid var(--line);vertical-align:top}
.scroll{overflow-x:auto}small{opacity:.8}:focus-visible{outline:3px solid var(--go);outline-offset:2px}form.line{display:flex;flex-wrap:wrap;gap:.5rem 1rem;align-items:end}form.line label{margin:0}`;

const page = (title: string, body: string, wide = false): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${escaped(title)}</title><style>${STYLE}</style></head><body><main${wide ? ' class="wide"' : ""}>${body}</main></body></html>`;

/** Currencies that are shown with other digits (Unicode CLDR) than amounts are held in (ISO 4217). */
const TWO = new Set("AFN ALL COP HUF IDR IRR KPW LAK LBP MGA MMK PKR SOS SYP YER".split(" "));
export function money(minor: number, currency: string): string {
  const shown = new Intl.NumberFormat("en-GB", { style: "currency", currency });
  const digits = currency === "IQD" ? 3 : TWO.has(currency) ? 2 : (shown.resolvedOptions().maximumFractionDigits ?? 2);
  const all = new Intl.NumberFormat("en-GB", { style: "currency", currency, minimumFractionDigits: digits, maximumFractionDigits: digits });
  return all.format(minor / 10 ** digits);
}

const MODES = { test: "a test: no money moves", live: "live" } as const;

export function payPage(a: AccountRow, id: string, c: CheckoutBody, problem: string | null, typed: { name?: string } = {}): string {
  return page(
    `Pay ${a.name}`,
    `<div class="roll"><h1>${escaped(a.name)}</h1><p><small>takes your payment at the Till (${MODES[a.mode]})</small></p>
<p>${escaped(c.what)}</p><div class="sum"><span>${c.amount === 0 ? "To pay now" : "To pay"}</span><span>${money(c.amount, c.currency)}</span></div>
${c.amount === 0 ? "<p>Nothing is taken now. The card is kept for what falls due later.</p>" : c.keep ? "<p>The card is kept for what falls due later.</p>" : ""}
<p><small>The receipt goes to ${escaped(c.email)}.</small></p></div>
<form class="roll" method="post" action="/pay/${id}"><h2>Your card</h2>${problem ? `<p class="wrong" role="alert">${escaped(problem)}</p>` : ""}
<label>Number<input name="number" inputmode="numeric" autocomplete="cc-number" required autofocus></label>
<div class="pair"><label>Good until<input name="until" placeholder="MM / YY" autocomplete="cc-exp" required></label><label>Code on its back<input name="code" inputmode="numeric" autocomplete="cc-csc" required></label></div>
<label>Name on it<input name="name" autocomplete="cc-name" value="${escaped(typed.name ?? "")}" required></label>
<p><button>${c.amount === 0 ? "Keep this card" : `Pay ${money(c.amount, c.currency)}`}</button></p></form>
<p><a href="${escaped(c.back)}">Turn back to ${escaped(a.name)}</a> · <a href="/#cards">Test cards</a></p>`,
  );
}

export const secondPage = (a: AccountRow, id: string, c: CheckoutBody): string =>
  page(
    "One step more",
    `<div class="roll"><h1>One step more</h1><p>Your bank asks whether this is you: ${money(c.amount, c.currency)} to ${escaped(a.name)}.</p>
<form method="post" action="/pay/${id}/second"><p><button name="yes" value="1">It is me</button> <button class="plain" name="yes" value="0">It is not</button></p></form></div>`,
  );

export const told = (title: string, words: string, back?: string): string =>
  page(
    title,
    `<div class="roll"><h1>${escaped(title)}</h1><p>${escaped(words)}</p>${back ? `<p><a href="${escaped(back)}">Turn back</a></p>` : ""}</div>`,
  );

interface Shown {
  readonly accounts: readonly AccountRow[];
  readonly events: readonly {
    id: string;
    account: string;
    body: string;
    tries: number;
    done_at: number | null;
    said: string | null;
    made_at: number;
  }[];
  readonly payments: readonly { account: string; amount: number; currency: string; refunded: number; what: string; at: number }[];
  readonly fresh: { readonly secret: string; readonly hook: string; readonly name: string } | null;
}

const at = (ms: number): string => new Date(ms).toISOString().slice(0, 19).replace("T", " ");

export function deskPage(s: Shown): string {
  const name = (id: string): string => escaped(s.accounts.find((a) => a.id === id)?.name ?? "");
  return page(
    "The Till",
    `<h1>The Till</h1><p>A simulated payment provider. It moves no money, and takes its own test cards alone.</p>
${s.fresh ? `<div class="roll" role="status"><h2>Account of ${escaped(s.fresh.name)}</h2><p>Told once, and not again:</p><p>Secret key<br><strong>${escaped(s.fresh.secret)}</strong></p><p>Secret of its events<br><strong>${escaped(s.fresh.hook)}</strong></p></div>` : ""}
<div class="roll" id="cards"><h2>Test cards</h2><div class="scroll"><table><tr><th>Number</th><th>What it does</th></tr>${CARDS.map((c) => `<tr><td>${c.number.replace(/(\d{4})(?=\d)/g, "$1 ")}</td><td>${c.words}</td></tr>`).join("")}</table></div><p><small>Good until any month to come, with any code and name.</small></p></div>
${s.accounts.map(accountPart).join("")}
<form class="roll" method="post" action="/accounts"><h2>New account</h2><label>Name, as buyers read it<input name="name" maxlength="80" required></label><label>Where its events go<input name="hook" placeholder="http://slug.localhost:3000/-/payments/events" required></label><label>Kind<select name="mode"><option value="test">test</option><option value="live">live</option></select></label><button>Make it</button></form>
<div class="roll"><h2>Payments</h2><div class="scroll"><table><tr><th>When</th><th>Account</th><th>What</th><th>Amount</th></tr>${s.payments.map((p) => `<tr><td>${at(p.at)}</td><td>${name(p.account)}</td><td>${escaped(p.what)}</td><td>${money(p.amount, p.currency)}${p.refunded ? ` (${money(p.refunded, p.currency)} back)` : ""}</td></tr>`).join("")}</table></div></div>
<div class="roll"><h2>Events</h2><div class="scroll"><table><tr><th>When</th><th>Account</th><th>What</th><th>How it went</th><th></th></tr>${s.events.map((e) => `<tr><td>${at(e.made_at)}</td><td>${name(e.account)}</td><td>${escaped((JSON.parse(e.body) as { type: string; outcome: { state: string } }).type)} ${escaped((JSON.parse(e.body) as { outcome: { state: string } }).outcome.state)}</td><td>${e.done_at ? "taken" : "not yet"} after ${e.tries} ${e.said ? `(${escaped(e.said)})` : ""}</td><td><form method="post" action="/events/${e.id}"><button class="plain">Again</button></form></td></tr>`).join("")}</table></div></div>`,
    true,
  );
}

function accountPart(a: AccountRow): string {
  const f = JSON.parse(a.faults) as Faults;
  const box = (name: keyof Faults, words: string): string =>
    `<label><input style="display:inline;width:auto" type="checkbox" name="${name}" value="1"${f[name] ? " checked" : ""}> ${words}</label>`;
  return `<form class="roll line" method="post" action="/accounts/${a.id}"><h2 style="width:100%">${escaped(a.name)}, ${a.mode}: how its events go</h2><label>Late, in seconds<input name="late" inputmode="numeric" value="${f.late ?? 0}" style="width:6rem"></label>${box("twice", "twice")}${box("disordered", "out of order")}${box("unsigned", "first with a wrong signature")}${box("dies", "first it dies in the middle")}<button class="plain">Keep</button></form>`;
}
