/** Server actions as anybody could post them by hand: caught while the owner uses a page, then sent by somebody else. */
import type { Browser } from "./browser";
import { Client } from "./client";

export interface Posted {
  id: string;
  body: string;
}

/** From now on the page remembers what it posts; a new page forgets. */
export const catchActions = (b: Browser): Promise<unknown> =>
  b.driver.executeScript(`
    const real = window.fetch; window.asked = [];
    window.fetch = (url, init) => {
      const id = new Headers(init?.headers).get("next-action");
      if (id && typeof init.body === "string") window.asked.push({ id, body: init.body });
      return real(url, init);
    };`);

export const caughtActions = (b: Browser): Promise<Posted[]> => b.driver.executeScript<Posted[]>("return window.asked");

export const postAction = (port: number, a: Posted, cookie: string, host: string, path: string) =>
  new Client(port, host).call("POST", path, {
    raw: a.body,
    headers: {
      ...(cookie ? { cookie } : {}),
      "next-action": a.id,
      accept: "text/x-component",
      "content-type": "text/plain;charset=UTF-8",
      origin: `http://${host}:${port}`,
    },
  });
