/**
 * Chromium's headless shell from Debian's packages, at a fixed size, with nothing of its own to say to the network. The driver makes its
 * profile and removes it.
 */
import { Builder, By, error, type WebElement } from "selenium-webdriver";
import chrome from "selenium-webdriver/chrome.js";
import { moveDate } from "../../scripts/testing/test-clock.mjs";

/** Elements are named by a CSS selector, or by an XPath that begins with a slash. */
export interface Browser {
  readonly driver: chrome.Driver;
  go(url: string): Promise<void>;
  /** The element, for what the calls below cannot say; it may be gone once the page changes. */
  find(where: string): Promise<WebElement>;
  count(where: string): Promise<number>;
  text(): Promise<string>;
  /** The visible words of each such element, of at least one. */
  texts(where: string): Promise<string[]>;
  attribute(where: string, name: string): Promise<string>;
  click(where: string): Promise<void>;
  keys(where: string, ...keys: string[]): Promise<void>;
  /** In place of what the box holds. */
  type(where: string, words: string): Promise<void>;
  /** The option of a select that says just this, or that begins so. */
  choose(select: string, option: string | { readonly begins: string }): Promise<void>;
  /** Presses a button or follows a link by its visible words. */
  press(words: string): Promise<void>;
  seesText(words: string | RegExp): Promise<void>;
  until(so: () => Promise<boolean>, otherwise?: string): Promise<void>;
  size(width: number, height: number): Promise<void>;
  close(): Promise<void>;
}

/** What a starved machine may take; a fast one never waits so long. */
const PATIENCE_MS = 20_000;
const quoted = (s: string): string => (s.includes('"') ? `'${s}'` : `"${s}"`);
const by = (where: string): By => (/^\(?\//.test(where) ? By.xpath(where) : By.css(where));

/** The page was replaced, redrawn or covered under our hands: nothing was done, and a person would look again. */
const passing = (e: unknown): boolean =>
  e instanceof error.StaleElementReferenceError ||
  e instanceof error.NoSuchElementError ||
  e instanceof error.ElementNotInteractableError ||
  e instanceof error.ElementClickInterceptedError ||
  (e instanceof error.WebDriverError &&
    /does not belong to the document|node with given id|context was destroyed|aborted by navigation/i.test(e.message));

/** Tries again while the page is changing, and tells the last trouble when patience ends. */
async function patiently<T>(what: string, how: () => Promise<T>): Promise<T> {
  const end = Date.now() + PATIENCE_MS;
  for (;;)
    try {
      return await how();
    } catch (e) {
      if (!passing(e)) throw e;
      if (Date.now() > end) throw new Error(`${what}: ${(e as Error).message.split("\n")[0]}`);
      await new Promise((r) => setTimeout(r, 50));
    }
}

/** A person cannot press within the first moments of a page, before its buttons do what they say. */
const READY = `return [...document.querySelectorAll("button, input:not([type=hidden]), select")]
  .every((el) => Object.keys(el).some((k) => k.startsWith("__react")))`;

export async function openBrowser(width = 1280, height = 800): Promise<Browser> {
  const options = new chrome.Options();
  // Itself, not the script of that name in /usr/bin: of a script the driver would end the shell and leave the browser.
  options.setChromeBinaryPath("/usr/lib/chromium/chromium-headless-shell");
  options.addArguments(
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-extensions",
    "--force-prefers-reduced-motion", // transitions are frames that nobody watches
    // Names of the invented lead to this machine, as an agency would have its domain do.
    "--host-resolver-rules=MAP *.example 127.0.0.1",
    "--no-first-run",
    "--no-default-browser-check",
    "--disable-breakpad",
    // One process for all sites: cookies and origins are as ever, and none is started ahead of a page that may never come.
    "--renderer-process-limit=1",
    "--disable-site-isolation-trials",
    "--disable-features=IsolateOrigins,site-per-process,SpareRendererForSitePerProcess,PaintHolding,Translate,OptimizationHints,MediaRouter",
    "--disable-domain-reliability",
    "--disable-default-apps",
    "--metrics-recording-only",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
  );
  const driver = (await new Builder()
    .forBrowser("chrome")
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder("/usr/bin/chromedriver"))
    .build()) as chrome.Driver;
  const size = (w: number, h: number): Promise<void> =>
    driver.sendDevToolsCommand("Emulation.setDeviceMetricsOverride", {
      width: w,
      height: h,
      deviceScaleFactor: 1,
      mobile: false,
    }) as Promise<void>;
  await size(width, height);
  // Where a run has a clock of its own, pages have it from their first line on.
  const ahead = Number(process.env.ELKHORN_TEST_AHEAD);
  if (ahead) await driver.sendDevToolsCommand("Page.addScriptToEvaluateOnNewDocument", { source: `(${moveDate})(${ahead})` });
  const use = <T>(where: string, how: (el: WebElement) => Promise<T>): Promise<T> =>
    patiently(where, async () => how(await driver.findElement(by(where))));
  // The page's own reckoning of what is visible: the driver's walks every element, which on a long page takes a second of a processor.
  const body = (): Promise<string> => patiently("body", () => driver.executeScript<string>("return document.body.innerText"));
  const click = (where: string): Promise<void> =>
    use(where, async (el) => {
      await driver.executeScript("arguments[0].scrollIntoView({block:'center'})", el);
      await el.click();
    });
  return {
    driver,
    size,
    click,
    text: body,
    find: (where) => use(where, async (el) => el),
    count: async (where) => (await driver.findElements(by(where))).length,
    texts: (where) =>
      patiently(where, async () => {
        await driver.findElement(by(where));
        return driver.executeScript<string[]>("return arguments[0].map((el) => el.innerText)", await driver.findElements(by(where)));
      }),
    attribute: (where, name) => use(where, async (el) => (await el.getAttribute(name)) ?? ""),
    keys: (where, ...keys) => use(where, (el) => el.sendKeys(...keys)),
    type: (where, words) =>
      use(where, async (el) => {
        await el.clear();
        await el.sendKeys(words);
      }),
    choose: (select, option) => {
      const said =
        typeof option === "string" ? `normalize-space()=${quoted(option)}` : `starts-with(normalize-space(),${quoted(option.begins)})`;
      return use(select, async (el) => (await el.findElement(By.xpath(`.//option[${said}]`))).click());
    },
    go: async (url) => {
      await driver.get(url);
      for (let i = 0; i < 100 && !(await driver.executeScript(READY)); i++) await new Promise((r) => setTimeout(r, 50));
    },
    press: (words) => {
      const q = quoted(words);
      return click(`//*[(self::button or self::a) and (normalize-space(.)=${q} or @aria-label=${q})]`);
    },
    seesText: async (words) => {
      const said = (all: string): boolean => (typeof words === "string" ? all.includes(words) : words.test(all));
      for (const end = Date.now() + PATIENCE_MS; !said(await body()); await new Promise((r) => setTimeout(r, 50)))
        if (Date.now() > end) throw new Error(`The page never said: ${words}\nIt said: ${(await body()).slice(0, 1500)}`);
    },
    until: async (so, otherwise) => {
      await driver.wait(so, PATIENCE_MS, otherwise);
    },
    close: () => driver.quit(),
  };
}
