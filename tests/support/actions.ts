/** Server actions as anybody could post them by hand: caught while the owner uses a page, then sent by somebody else. */
import { expect } from "vitest";
import type { Browser } from "./browser";
import { Client, signedIn } from "./client";

export interface Posted {
  id: string;
  /** As text, or the parts of a form. */
  body: string | [string, string][];
}

/** From now on the page remembers what it posts; a new page forgets. */
export const catchActions = (b: Browser): Promise<unknown> =>
  b.driver.executeScript(`
    const real = window.fetch; window.asked = [];
    window.fetch = (url, init) => {
      const id = new Headers(init?.headers).get("next-action");
      if (id && typeof init.body === "string") window.asked.push({ id, body: init.body });
      if (id && init.body instanceof FormData) window.asked.push({ id, body: [...init.body].filter(([, v]) => typeof v === "string") });
      return real(url, init);
    };`);

/** The same, but nothing is sent: what the owner was about to do can be tried by others first. */
export const holdActions = (b: Browser): Promise<unknown> =>
  b.driver.executeScript(`
    window.asked = [];
    window.fetch = (url, init) => {
      const id = new Headers(init?.headers).get("next-action");
      if (id && typeof init.body === "string") window.asked.push({ id, body: init.body });
      if (id && init.body instanceof FormData) window.asked.push({ id, body: [...init.body].filter(([, v]) => typeof v === "string") });
      return new Promise(() => {});
    };`);

export const caughtActions = (b: Browser): Promise<Posted[]> => b.driver.executeScript<Posted[]>("return window.asked");

const EDGE = "----elkhorn-story";
/** RFC 7578. */
const multipart = (parts: readonly [string, string][]): string =>
  `${parts.map(([name, value]) => `--${EDGE}\r\ncontent-disposition: form-data; name="${name}"\r\n\r\n${value}\r\n`).join("")}--${EDGE}--\r\n`;

export const post = (port: number, a: Posted, cookie: string, host: string, path: string) =>
  new Client(port, host).call("POST", path, {
    raw: typeof a.body === "string" ? a.body : multipart(a.body),
    headers: {
      ...(cookie ? { cookie } : {}),
      "next-action": a.id,
      accept: "text/x-component",
      "content-type": typeof a.body === "string" ? "text/plain;charset=UTF-8" : `multipart/form-data; boundary=${EDGE}`,
      origin: `http://${host}:${port}`,
    },
  });

/**
 * What the owner's page posted answers the owner, and nobody else who posts it: signed out, a client on the portal's host and on the
 * back office's, the agency's own people. `said` finds what the action alone would say; a page may come back all the same.
 */
export async function answersOwnerAlone(port: number, owner: Browser, asked: readonly Posted[], page: string, said: RegExp): Promise<void> {
  const mine = (await owner.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const ines = await signedIn(port, "ines@fernhill.example"); // the agency's, but not the back office's
  // Where portals stand on hosts of their own alone, a client can only bring the main host the cookie of another.
  const paths = (await new Client(port, "localhost").get("/p/fernhill/api/v1/me")).status === 401;
  const inside = paths ? await signedIn(port, "dana@saltmarsh.example", "localhost", "/p/fernhill") : dana;
  for (const a of asked) expect((await post(port, a, mine, "localhost", page)).text).toMatch(said); // the questions are real ones
  for (const a of asked)
    for (const [cookie, host, path] of [
      ["", "localhost", page],
      ["", "fernhill.localhost", "/"],
      [dana.cookie, "fernhill.localhost", "/signs"],
      [ines.cookie, "fernhill.localhost", "/signs"],
      [inside.cookie, "localhost", "/p/fernhill/signs"],
      [inside.cookie, "localhost", page],
    ] as const) {
      const answer = await post(port, a, cookie, host, path);
      expect([host, path, said.exec(answer.text)?.[0]]).toEqual([host, path, undefined]);
      expect([200, 303, 307, 404, 409, 500]).toContain(answer.status);
    }
}
