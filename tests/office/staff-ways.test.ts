/** Staff of lesser roles: nothing that they are shown leads to a page that is not open to them. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { newStaff, signInAt, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}${path}`;
let b: Browser;
let support: string;
beforeAll(async () => {
  const owner = await openBrowser();
  b = await openBrowser();
  await signInToOffice(owner, port);
  await newStaff(owner, b, office, data, {
    name: "Sixten Alm",
    email: "sixten@fernhill.example",
    role: "Support",
    password: "sixten-mends-a-bell",
  });
  await owner.close();
  support = await cookieOf(b);
});
afterAll(() => b.close());
const cookieOf = async (of: Browser): Promise<string> =>
  (await of.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");

it("whoever is led to the door of the office is led on to where they were going", { timeout: 120_000 }, async () => {
  const page = "/portals/fernhill/plans?of=draft";
  const piet = await openBrowser();
  try {
    await piet.go(office(page));
    await piet.type("#email", "piet@fernhill.example");
    await piet.type("#password", "not his password at all");
    await piet.press("Sign in");
    await piet.seesText("do not go together");
    await piet.type("#email", "piet@fernhill.example");
    await piet.type("#password", "piet-counts-the-coins-twice");
    await piet.press("Sign in");
    await piet.until(async () => (await piet.driver.getCurrentUrl()) === office(page));
    // Nowhere but here.
    const answer = await new Client(port, "localhost").get("/sign-in?to=https://elsewhere.example/", {
      headers: { cookie: await cookieOf(piet) },
    });
    expect(String(answer.headers.location ?? "")).not.toContain("elsewhere");
  } finally {
    await piet.close();
  }
});

const MOST = 260;
/** Every address in the office that pages link to, from these on, with where each was found. Pages of one kind are asked for twice. */
async function closedWays(cookie: string, from: readonly string[]): Promise<{ closed: string[]; pages: number }> {
  const client = new Client(port, "localhost");
  const found = new Map<string, string>(from.map((path) => [path, "the beginning"]));
  const kinds = new Map<string, number>();
  const closed: string[] = [];
  let pages = 0;
  for (const [path, by] of found) {
    const kind = path.split("?")[0]!.replace(/[0-9a-f-]{16,}|[a-z]+_[0-9a-z]+/g, "*");
    const met = kinds.get(kind) ?? 0;
    kinds.set(kind, met + 1);
    if (met > 1 || pages >= MOST) continue;
    pages++;
    const answer = await client.get(path, { headers: { cookie } });
    const to = String(answer.headers.location ?? "");
    if (to.endsWith("/-/closed") || answer.status === 404) closed.push(`${path} (from ${by})`);
    else if (to.startsWith("/portals/") && !found.has(to)) found.set(to, path);
    // In a preview the links are the portal's, and lead nowhere.
    if (!String(answer.headers["content-type"]).startsWith("text/html") || path.includes("/-/preview")) continue;
    for (const [, href] of answer.text.matchAll(/<a\b[^>]*?\shref="(\/[^"#]*)/g)) {
      const next = href!.replaceAll("&amp;", "&");
      if (/^\/portals\/fernhill(\/|\?|$)/.test(next) && !found.has(next)) found.set(next, path);
    }
  }
  return { closed, pages };
}

it("support is led nowhere that is closed to it", { timeout: 240_000 }, async () => {
  const { closed, pages } = await closedWays(support, ["/portals/fernhill"]);
  expect(closed).toEqual([]);
  expect(pages).toBeGreaterThan(40);
});

it("neither is billing", { timeout: 120_000 }, async () => {
  const piet = await openBrowser();
  try {
    await signInAt(piet, office("/sign-in"), "piet@fernhill.example", "piet-counts-the-coins-twice");
    const { closed, pages } = await closedWays(await cookieOf(piet), ["/portals/fernhill"]);
    expect(closed).toEqual([]);
    expect(pages).toBeGreaterThan(5);
  } finally {
    await piet.close();
  }
});
