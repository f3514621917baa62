/**
 * The process killed (SIGKILL) a hundred times while it renews subscriptions at a Till of its own over HTTP: whatever stands afterwards
 * agrees with what the Till has taken, and in the end everybody has paid once, or is in grace once where their card is refused.
 */
import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { INVOICES } from "@/core/schema/books";
import Database from "@/data/file/sqlite";
import { startTill } from "@/till/main";
import { addAccount, addKept } from "@/till/store";
import { bundle } from "../../scripts/bundle.mjs";

const ROOT = join(import.meta.dirname, "../..");
const KILLS = 100;
const COMPANIES = 400;
const POINTS = ["renewal: asked", "renewal: answered", "charging: ended", "charging: written"];
const folder = mkdtempSync(join(tmpdir(), "elkhorn-paying-"));
const bundled = join(ROOT, ".tmp", `paying-${process.pid}`);
let till: Awaited<ReturnType<typeof startTill>>;
let secret = "";
afterAll(async () => {
  await till.close();
  for (const f of [folder, bundled]) rmSync(f, { recursive: true, force: true });
});

const data = join(folder, "data");
function child(env: Record<string, string>): Promise<string> {
  return new Promise((done) => {
    const settings = { ELKHORN_DATA: data, ELKHORN_TILL: `http://till.localhost:${till.port}`, ELKHORN_SECRET: secret };
    spawn(process.execPath, [join(bundled, "paying-child.mjs")], {
      cwd: ROOT,
      env: { ...process.env, ...settings, ...env },
      stdio: ["ignore", "ignore", "inherit"],
    }).on("exit", (code, signal) => done(signal ?? String(code)));
  });
}

const refused = (i: number): boolean => i % 5 === 4;

beforeAll(async () => {
  await bundle(["tests/support/paying-child.ts"], bundled);
  till = await startTill(0, join(folder, "till.db"));
  const account = addAccount(till.db, { name: "Paying", mode: "test", hookUrl: "http://paying.localhost:9/-/payments/events" });
  secret = account.secret;
  const kept = Array.from({ length: COMPANIES }, (_, i) =>
    addKept(till.db, account.id, { name: `c${i}`, email: "", reference: `c${i}`, does: refused(i) ? "refused" : "paid", last: "0017" }),
  );
  writeFileSync(join(folder, "kept.json"), JSON.stringify(kept));
  expect(await child({ ELKHORN_MAKE: join(folder, "kept.json") })).toBe("0");
});

it("killed a hundred times between asking, taking and writing down: nothing is lost, nothing is twice", async () => {
  const db = new Database(join(data, "portals", readdirSync(join(data, "portals")).find((f) => f.endsWith(".db"))!));
  const column = (sql: string): unknown[] => db.prepare(sql).pluck().all();
  const taken = (): string[] => till.db.prepare("SELECT id FROM payments ORDER BY id").pluck().all() as string[];
  let untold = 0;
  const whole = (): void => {
    expect(db.pragma("integrity_check", { simple: true })).toBe("ok");
    const known = column("SELECT outside FROM sys_payments WHERE outside IS NOT NULL ORDER BY outside") as string[];
    const all = new Set(taken());
    expect(known.filter((k) => !all.has(k))).toEqual([]);
    expect(new Set(known).size).toBe(known.length);
    if (all.size > known.length) untold++;
    // The time went on for whoever has paid, and for nobody else.
    const on = column(
      "SELECT company_id FROM sys_subscriptions WHERE json_extract(body, '$.paidUntil') = '2026-07-15' ORDER BY company_id",
    );
    expect(column("SELECT company_id FROM sys_charges WHERE state = 'paid' ORDER BY company_id")).toEqual(on);
  };
  try {
    for (let i = 0; i < KILLS; i++) {
      const at = `${POINTS[i % POINTS.length]} x${1 + (i % 3)}`;
      expect([at, await child({ ELKHORN_DIE_AT: at })]).toEqual([at, "SIGKILL"]);
      whole();
    }
    // Often enough money was taken and not written down, and there was work left to the last: else nothing was tried.
    expect(untold).toBeGreaterThan(KILLS / 10);
    expect(taken().length).toBeLessThan((COMPANIES * 4) / 5);
    expect(await child({})).toBe("0");
    whole();
    const states = db.prepare("SELECT state, count(*) FROM sys_subscriptions GROUP BY state ORDER BY state").raw().all();
    expect(states).toEqual([
      ["active", (COMPANIES * 4) / 5],
      ["grace", COMPANIES / 5],
    ]);
    expect(column("SELECT outside FROM sys_payments WHERE outside IS NOT NULL ORDER BY outside")).toEqual(taken());
    expect(taken()).toHaveLength((COMPANIES * 4) / 5);
    expect(column(`SELECT count(*) FROM ${INVOICES}`)).toEqual([COMPANIES]);
    expect(column("SELECT count(*) FROM sys_charges WHERE state = 'refused'")).toEqual([COMPANIES / 5]);
  } finally {
    db.close();
  }
}, 600_000);
