/** The Ledger Room's one page: what it holds, what is to go wrong, and where its API is described. Plain, and of its own look. */
import { type Faults, itemsAfter, KINDS, type Kind, type Ledger } from "./store";

const escaped = (s: string): string =>
  s.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;").replaceAll("'", "&#39;");

const STYLE = `:root{color-scheme:light dark;--ink:#20262b;--ground:#f4efe6;--paper:#fff;--line:#d5cbb8;--go:#7a3b12}
@media(prefers-color-scheme:dark){:root{--ink:#ece6da;--ground:#1b1714;--paper:#262019;--line:#4b4236;--go:#e0a87c}}
*{box-sizing:border-box}body{margin:0;background:var(--ground);color:var(--ink);font:16px/1.5 Georgia,"Times New Roman",serif}
main{max-width:64rem;margin:0 auto;padding:2rem 1rem}h1{font-size:1.6rem;margin:0}h2{font-size:1.1rem;margin:2rem 0 .5rem}
table{border-collapse:collapse;width:100%;font-size:.9rem;background:var(--paper)}td,th{text-align:left;padding:.35rem .6rem;border:1px solid var(--line)}
.scroll{overflow-x:auto}form{background:var(--paper);border:1px solid var(--line);padding:1rem;display:flex;flex-wrap:wrap;gap:.5rem 1.5rem;align-items:center}
select,button{font:inherit;padding:.35rem .7rem}button{background:var(--go);color:var(--paper);border:0}a{color:var(--go)}:focus-visible{outline:3px solid var(--go);outline-offset:2px}`;

export const FAULT_WORDS: Readonly<Record<Exclude<keyof Faults, "status">, string>> = {
  rations: "Answers every other request alone",
  hangs: "Never answers",
  drips: "Answers one character at a time",
  repeats: "Pages come twice",
  skips: "Leaves rows out",
  liesAboutSize: "Says a wrong length",
  renames: "Has renamed a column",
};

export function roomPage(db: Ledger, faults: Faults, most = 30): string {
  const part = (kind: Kind): string => {
    const columns = KINDS[kind];
    const rows = itemsAfter(db, kind, 0, false, most)
      .map((i) => `<tr><td>${escaped(i.id)}</td>${columns.map((c) => `<td>${escaped(i.values[c] ?? "")}</td>`).join("")}</tr>`)
      .join("");
    return `<h2>${kind}</h2><div class="scroll"><table><tr><th>id</th>${columns.map((c) => `<th>${c}</th>`).join("")}</tr>${rows}</table></div>`;
  };
  const boxes = Object.entries(FAULT_WORDS)
    .map(
      ([name, words]) =>
        `<label><input type="checkbox" name="${name}"${faults[name as keyof typeof FAULT_WORDS] ? " checked" : ""}> ${words}</label>`,
    )
    .join("");
  const statuses = [0, 401, 429, 500, 503]
    .map((s) => `<option value="${s}"${s === (faults.status ?? 0) ? " selected" : ""}>${s === 0 ? "As it should" : s}</option>`)
    .join("");
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>The Ledger Room</title><style>${STYLE}</style></head><body><main>
<h1>The Ledger Room</h1><p>A simulated records system. Its API is described at <a href="/openapi.json">/openapi.json</a>.</p>
<form method="post" action="/faults"><label>Answers <select name="status">${statuses}</select></label>${boxes}<button>Set</button></form>
${(Object.keys(KINDS) as Kind[]).map(part).join("")}</main></body></html>`;
}
