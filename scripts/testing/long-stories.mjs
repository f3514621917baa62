/**
 * Stories that go over ground again which others have walked, more slowly, each with the rooms that it walks through. `npm run test:long` has
 * them all. `npm test` has those whose rooms have changed since they last passed: that is told by a hash of the rooms' sources, which a run
 * that passes writes into tests/support/long-passed.json, to be committed with the change.
 */
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const ROOT = join(import.meta.dirname, "../..");
const RECORD = join(ROOT, "tests/support/long-passed.json");

export const LONG = {
  "tests/data/data-desk-more.test.ts": ["src/features/data", "src/data/schema"],
  "tests/data/data-desk.test.ts": ["src/features/data", "src/data/imports", "src/data/schema"],
  "tests/money/killed-paying.test.ts": ["src/features/pay", "src/data/billing", "src/core/billing"],
  "tests/data/killed.test.ts": ["src/data/file", "src/data/imports", "src/data/jobs"],
  "tests/money/money.test.ts": ["src/features/plans", "src/features/rehearsal", "src/core/billing"],
  "tests/office/no-answer.test.ts": ["src/ui", "src/office"],
  "tests/people/people-desk.test.ts": ["src/features/people", "src/data/people"],
  "tests/access/safeguards.test.ts": ["src/features/access", "src/features/checks", "src/core/review"],
  "tests/all/trade.test.ts": ["src/core/access", "src/core/schema"],
  "tests/pages/pages-kept.test.ts": ["src/features/pages", "src/data/definition", "src/office"],
  "tests/door/doors-beyond.test.ts": ["src/identity/providers", "src/features/portal/door", "src/services"],
  "tests/money/checkout.test.ts": ["src/features/pay", "src/orders", "src/data/billing", "src/core/billing"],
  "tests/money/plans.test.ts": ["src/features/plans", "src/core/prices", "src/data/billing"],
  "tests/api/tools.test.ts": ["src/features/api", "src/identity/keys", "src/identity/requests", "src/core/access"],
  "tests/api/webhooks.test.ts": ["src/webhooks", "src/features/connections/webhooks", "src/data/records", "src/services/outside"],
  "tests/data/sources.test.ts": ["src/office/sources", "src/services/sources", "src/features/connections/systems", "src/data/imports"],
  "tests/data/sources-contract.test.ts": ["src/services", "src/ledger-room"],
  "tests/pages/pages.test.ts": ["src/features/pages", "src/features/portal/sections", "src/core/pages", "src/core/sections", "src/office"],
  "tests/pages/pages-more.test.ts": ["src/features/pages", "src/core/pages", "src/core/sections"],
  "tests/office/staff.test.ts": ["src/staff", "src/features/office", "src/identity/office"],
  "tests/door/doors.test.ts": ["src/identity/doors", "src/identity/entering", "src/features/portal/door"],
  "tests/people/ways-in.test.ts": ["src/features/people", "src/identity/doors", "src/identity/secrets"],
};

const filesIn = (folder) =>
  readdirSync(join(ROOT, folder), { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile() && /\.(ts|tsx)$/.test(f.name) && !f.name.includes(".test."))
    .map((f) => join(f.parentPath, f.name));

/** Of the story and of all that stands in its rooms, whatever their order on the disk. */
function hashOf(story) {
  const hash = createHash("sha256").update(readFileSync(join(ROOT, story)));
  for (const path of LONG[story].flatMap(filesIn).sort()) hash.update(path.slice(ROOT.length)).update(readFileSync(path));
  return hash.digest("hex").slice(0, 32);
}

const record = () => (existsSync(RECORD) ? JSON.parse(readFileSync(RECORD, "utf8")) : {});

/** Those whose rooms are not as they were when they last passed. */
export function changedStories() {
  const passed = record();
  return Object.keys(LONG).filter((story) => passed[story] !== hashOf(story));
}

/** A reporter that notes each of them that passes whole. */
export const notePassed = {
  onTestModuleEnd(module) {
    const story = Object.keys(LONG).find((s) => module.moduleId.endsWith(`/${s}`));
    if (!story) return;
    for (const test of module.children.allTests()) if (test.result().state !== "passed") return;
    const next = { ...record(), [story]: hashOf(story) };
    const sorted = Object.fromEntries(Object.entries(next).sort(([a], [b]) => (a < b ? -1 : 1)));
    writeFileSync(RECORD, `${JSON.stringify(sorted, null, 2)}\n`);
  },
};
