/** A headless Chromium from Debian's packages, at a fixed size, with nothing of its own to say to the network. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Builder, By, until, type WebDriver, type WebElement } from "selenium-webdriver";
import chrome from "selenium-webdriver/chrome.js";

export interface Browser {
  readonly driver: WebDriver;
  go(url: string): Promise<void>;
  find(css: string): Promise<WebElement>;
  text(): Promise<string>;
  type(css: string, words: string): Promise<void>;
  /** Presses a button or follows a link by its visible words. */
  press(words: string): Promise<void>;
  seesText(words: string, ms?: number): Promise<void>;
  size(width: number, height: number): Promise<void>;
  close(): Promise<void>;
}

const quoted = (s: string): string => (s.includes('"') ? `'${s}'` : `"${s}"`);

export async function openBrowser(width = 1280, height = 800): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), "elkhorn-chromium-"));
  const options = new chrome.Options();
  options.setChromeBinaryPath("/usr/bin/chromium");
  options.addArguments(
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
    `--user-data-dir=${profile}`,
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
  const find = (css: string): Promise<WebElement> => driver.wait(until.elementLocated(By.css(css)), 10_000);
  return {
    driver,
    size,
    find,
    go: (url) => driver.get(url),
    text: async () => (await driver.findElement(By.css("body"))).getText(),
    type: async (css, words) => {
      const box = await find(css);
      await box.clear();
      await box.sendKeys(words);
    },
    press: async (words) => {
      const q = quoted(words);
      const path = `//*[(self::button or self::a) and (normalize-space(.)=${q} or @aria-label=${q})]`;
      const el = await driver.wait(until.elementLocated(By.xpath(path)), 10_000, `No button or link says ${words}`);
      await driver.executeScript("arguments[0].scrollIntoView({block:'center'})", el);
      await el.click();
    },
    seesText: async (words, ms = 10_000) => {
      await driver
        .wait(async () => (await (await driver.findElement(By.css("body"))).getText()).includes(words), ms, `The page never said: ${words}`)
        .catch(async (e: Error) => {
          throw new Error(`${e.message}\nIt said: ${(await (await driver.findElement(By.css("body"))).getText()).slice(0, 1500)}`);
        });
    },
    close: async () => {
      await driver.quit();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}
