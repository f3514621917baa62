/**
 * What a browser has of the pages: scripts by their size on the line, shifts of the layout, how soon a drag is answered, and Lighthouse's
 * own figures (the npm package, with the Chromium of this machine and its usual simulated slow telephone).
 */
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, openBrowser } from "../tests/support/browser";
import { median, print, round } from "./measure";
import { freePort, type Served, served } from "./served";

const KB = 1024;
const SCRIPTS = `return performance.getEntriesByType("resource").filter((e) => new URL(e.name).pathname.endsWith(".js")).reduce((n, e) => n + e.encodedBodySize, 0)`;
const SHIFTS = `return new Promise((done) => { let n = 0; window.shifted = []; new PerformanceObserver((l) => { for (const e of l.getEntries()) if (!e.hadRecentInput) { n += e.value; for (const s of e.sources) window.shifted.push((s.node?.outerHTML ?? "").slice(0, 120) + JSON.stringify([s.previousRect, s.currentRect])); } }).observe({ type: "layout-shift", buffered: true }); setTimeout(() => done(n), 400); })`;

export const benchBrowser = (): Promise<void> =>
  served(async (s) => {
    const b = await openBrowser();
    try {
      await scripts(b, s);
      await dragging(b, s);
    } finally {
      await b.close();
    }
    await lighthouses(s);
  });

const settled = (): Promise<void> => new Promise((done) => setTimeout(done, 700));

async function signIn(b: Browser, { port, cookie }: Served, email: string): Promise<void> {
  await b.driver.sendDevToolsCommand("Network.clearBrowserCookies", {});
  for (const pair of (await cookie(email)).split("; ")) {
    const [name, value] = pair.split("=") as [string, string];
    await b.driver.sendDevToolsCommand("Network.setCookie", { name, value, url: `http://fernhill.localhost:${port}/`, httpOnly: true });
  }
}

/** Each page in a browser that holds nothing yet. */
async function scripts(b: Browser, s: Served): Promise<void> {
  await b.driver.sendDevToolsCommand("Network.setCacheDisabled", { cacheDisabled: true });
  const size = async (url: string): Promise<number> => {
    await b.go(url);
    await settled();
    return (await b.driver.executeScript<number>(SCRIPTS)) / KB;
  };
  const bare = await size(`http://localhost:${s.port}/bench/bare`);
  const at = (path: string): string => `http://fernhill.localhost:${s.port}${path}`;
  const door = await size(at("/sign-in"));
  print({ name: "scripts of the sign-in page", value: round(door - bare), unit: `kB gz over a bare page (${round(bare)})`, goal: "<= 25" });
  await signIn(b, s, "dana@saltmarsh.example");
  for (const [name, path] of [
    ["home", "/"],
    ["a list", "/signs"],
    ["a board", "/request-board"],
  ] as const) {
    const of = await size(at(path));
    const shift = await b.driver.executeScript<number>(SHIFTS);
    print({
      name: `scripts of ${name}`,
      value: round(of - bare),
      unit: "kB gz over a bare page",
      goal: name === "a board" ? "told" : "<= 40",
    });
    if (process.argv.includes("--why")) console.log((await b.driver.executeScript<string[]>("return window.shifted")).join("\n"));
    print({ name: `layout shift of ${name}`, value: round(shift), unit: "(Layout Instability API)", goal: "0" });
  }
}

/** From the pointer's move to the next frame, in the editor of a page with forty sections. */
async function dragging(b: Browser, s: Served): Promise<void> {
  const office = `http://localhost:${s.port}`;
  await b.go(`${office}/sign-in`);
  await b.type("#email", "rosalind@fernhill.example");
  await b.type("#password", "rosalind-keeps-the-keys");
  await b.press("Sign in");
  await b.until(async () => !(await b.driver.getCurrentUrl()).includes("/sign-in"));
  await b.go(`${office}/portals/fernhill/pages/home`);
  const count = (): Promise<number> => b.count("ol[aria-label='Sections of this page'] > li");
  await b.until(async () => (await count()) > 3);
  for (let n = await count(); n < 40; n = await count()) {
    if ((await b.count("//ol[@aria-label='Sections of this page']//button[normalize-space(.)='Copy']")) === 0)
      await b.click("ol[aria-label='Sections of this page'] > li:first-child button[aria-pressed]");
    await b.press("Copy");
    await b.until(async () => (await count()) > n);
  }
  const times = await b.driver.executeAsyncScript<number[]>(`
    const done = arguments[0];
    const handle = document.querySelectorAll("ol[aria-label='Sections of this page'] > li .cursor-grab")[2];
    const box = handle.getBoundingClientRect();
    const send = (type, el, y) => el.dispatchEvent(new PointerEvent(type, { bubbles: true, cancelable: true, composed: true, isPrimary: true, pointerId: 1, button: 0, buttons: 1, clientX: box.x + 4, clientY: y }));
    const frame = () => new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0)));
    (async () => {
      const times = [];
      send("pointerdown", handle, box.y + 4);
      await frame();
      for (let i = 1; i <= 30; i++) {
        const from = performance.now();
        send("pointermove", document, box.y + 4 + i * 6);
        await frame();
        times.push(performance.now() - from);
      }
      send("pointerup", document, box.y + 4);
      done(times);
    })();`);
  print({
    name: "a drag in the editor, forty sections",
    value: round(median(times)),
    unit: `ms from the pointer to the next frame (longest ${round(Math.max(...times))})`,
    goal: "<= 50",
  });
}

async function lighthouses({ port, cookie }: Served): Promise<void> {
  const { default: lighthouse } = await import("lighthouse");
  const profile = mkdtempSync(join(tmpdir(), "elkhorn-lighthouse-"));
  const debug = await freePort();
  const flags = ["--headless=new", "--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"];
  const args = [
    ...flags,
    "--disable-component-update",
    "--disable-extensions",
    `--user-data-dir=${profile}`,
    `--remote-debugging-port=${debug}`,
  ];
  const chromium = spawn("/usr/bin/chromium", [...args, "about:blank"], { stdio: "ignore" });
  try {
    for (let i = 0; i < 100; i++) {
      const up = await fetch(`http://127.0.0.1:${debug}/json/version`).then(
        (r) => r.ok,
        () => false,
      );
      if (up) break;
      await new Promise((r) => setTimeout(r, 100));
    }
    const dana = await cookie("dana@saltmarsh.example");
    const origin = `http://fernhill.localhost:${port}`;
    for (const [name, path, signedIn] of [
      ["sign-in", "/sign-in", false],
      ["home", "/", true],
      ["list", "/signs", true],
      ["board", "/request-board", true],
    ] as const) {
      const headers = signedIn ? { extraHeaders: { Cookie: dana } } : {};
      const run = await lighthouse(origin + path, { port: debug, logLevel: "silent", output: "json", ...headers });
      const scores = Object.values(run?.lhr.categories ?? {}).map((c) => `${c.title} ${Math.round((c.score ?? 0) * 100)}`);
      const performance = Math.round((run?.lhr.categories.performance?.score ?? 0) * 100);
      print({ name: `Lighthouse, ${name}`, value: performance, unit: scores.join(", "), goal: ">= 95, others 100" });
      for (const audit of Object.values(run?.lhr.audits ?? {}))
        if (audit.score !== null && audit.score < 0.9 && process.argv.includes("--why"))
          console.log(`    ${audit.id}: ${audit.title} ${audit.displayValue ?? ""}`);
    }
  } finally {
    chromium.kill();
    await new Promise((r) => setTimeout(r, 300));
    rmSync(profile, { recursive: true, force: true });
  }
}
