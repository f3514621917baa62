/** A browser left open: a sign-in of an hour ago makes no way in, takes none away, and asks nobody in. */
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { signInAt, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const office = (path: string): string => `http://localhost:${port}${path}`;
const HOUR = 3_600_000;
let b: Browser;
beforeAll(async () => {
  b = await openBrowser();
});
afterAll(() => b.close());

function within<T>(file: string, work: (db: Database.Database) => T): T {
  const db = new Database(file, { timeout: 10_000 });
  try {
    return work(db);
  } finally {
    db.close();
  }
}
const control = join(data, "elkhorn.db");
const portalFile = (): string =>
  join(data, "portals", `${within(control, (db) => db.prepare("SELECT id FROM portals WHERE slug = 'fernhill'").pluck().get())}.db`);
/** As if an hour had gone by; the session itself goes on. */
function age(file: string, table: "sys_sessions" | "staff_sessions"): void {
  const { changes } = within(file, (db) => db.prepare(`UPDATE "${table}" SET created_at = created_at - ?`).run(HOUR));
  expect(changes).toBeGreaterThan(0);
}
const count = (file: string, sql: string): unknown => within(file, (db) => db.prepare(sql).pluck().get());

it("of a portal: no passkey, second factor or address", { timeout: 120_000 }, async () => {
  const old = "Sign out and in again first";
  await b.driver.sendDevToolsCommand("WebAuthn.enable", {});
  const options = {
    protocol: "ctap2",
    transport: "internal",
    hasResidentKey: true,
    hasUserVerification: true,
    isUserVerified: true,
    automaticPresenceSimulation: true,
  };
  await b.driver.sendDevToolsCommand("WebAuthn.addVirtualAuthenticator", { options });
  await signInAt(b, portal("/sign-in?to=/-/me"), "ines@fernhill.example");
  await b.press("Make a passkey");
  await b.seesText(/Made \d/);
  age(portalFile(), "sys_sessions");

  const passkeys = "section[aria-labelledby='passkeys']";
  await b.press("Make a passkey");
  await b.until(async () => (await b.texts(passkeys))[0]!.includes(old), "a second passkey");
  await b.press("Set up an authenticator");
  await b.until(async () => (await b.texts("section[aria-labelledby='second']"))[0]!.includes(old), "a second factor");
  await b.type("input[name=email]", "elsewhere@fernhill.example");
  await b.click("button[name=act][value=begin]");
  await b.until(async () => (await b.texts("section[aria-labelledby='address']"))[0]!.includes(old), "another address");
  await b.click("[aria-label^='Remove: ']");
  await b.until(async () => (await b.driver.getCurrentUrl()).includes("again=1"));
  await b.seesText(old);
  expect(count(portalFile(), "SELECT count(*) FROM sys_factors WHERE kind = 'passkey'")).toBe(1);
});

it("of the back office: no passkey, second factor or colleague", { timeout: 120_000 }, async () => {
  const old = "this needs a sign-in from the last 15 minutes";
  await signInToOffice(b, port);
  const staff = (): unknown => count(control, "SELECT count(*) FROM staff");
  const before = staff();
  age(control, "staff_sessions");
  await b.go(office("/-/you"));
  await b.press("Make a passkey");
  await b.until(async () => (await b.texts("section[aria-labelledby='passkeys']"))[0]!.includes(old), "a passkey");
  await b.press("Set up an authenticator");
  await b.until(async () => (await b.texts("section[aria-labelledby='second']"))[0]!.includes(old), "a second factor");
  await b.go(office("/-/staff"));
  await b.type("#name", "Anyone");
  await b.type("#email", "anyone@fernhill.example");
  await b.press("Send a link");
  await b.seesText(old);
  expect([await b.attribute("#name", "value"), staff()]).toEqual(["Anyone", before]);
});
