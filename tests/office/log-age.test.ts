/** How long the log is kept: what is older is had as a file by the agency's own, and by nobody else. */
import { gunzipSync } from "node:zlib";
import { afterAll, beforeAll, expect, it } from "vitest";
import { portalFile } from "@/data/file/open";
import { earlierLogs, logAge, thinLog } from "@/data/log/thin";
import { ownerViewer } from "@/identity/viewers/viewer";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
let b: Browser;
beforeAll(async () => {
  b = await openBrowser();
  await signInToOffice(b, port);
});
afterAll(() => b.close());

const page = "/portals/fernhill/log";
const SELECT = "//label[contains(.,'Keep the log for')]//select";

it("is chosen by the owner; older entries leave for a file that opens to the agency alone", { timeout: 120_000 }, async () => {
  process.env.ELKHORN_DATA = data;
  const file = portalFile("fernhill", false, data)!;
  const first = "UPDATE sys_events SET at = ?, act = 'published', detail = 'long ago' WHERE id = (SELECT min(id) FROM sys_events)";
  file.db.prepare(first).run(Date.UTC(2020, 0, 5));
  file.rest?.();
  await b.go(`http://localhost:${port}${page}`);
  await b.seesText("Older entries");
  await catchActions(b);
  await b.choose(SELECT, "6 months");
  await b.press("Save");
  await b.seesText("Saved.");
  const asked = await caughtActions(b);
  expect(asked.length).toBeGreaterThan(0);
  await answersOwnerAlone(port, b, asked, page, /Saved[.]/);
  expect(logAge(file)).toBe(6);

  const owner = ownerViewer({ id: "night", name: "Elkhorn" }, Date.UTC(2026, 11, 1));
  expect(await thinLog(file, owner, Date.UTC(2026, 11, 1))).toBeGreaterThan(0);
  const name = (await earlierLogs(file, owner))[0]!.name;
  file.rest?.();
  await b.go(`http://localhost:${port}${page}`);
  await b.seesText("5 Jan 2020 to 1 Jun 2026");
  const cookie = (await b.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  const href = new URL(await b.attribute(`//a[contains(@href, '${name}')]`, "href")).pathname;
  const got = await fetch(`http://localhost:${port}${href}`, { headers: { cookie } });
  expect(gunzipSync(Buffer.from(await got.arrayBuffer())).toString()).toContain("long ago");

  const dana = await signedIn(port, "dana@saltmarsh.example");
  for (const [who, host, path] of [
    ["", "localhost", href],
    [dana.cookie, "localhost", href],
    [dana.cookie, "fernhill.localhost", href],
    [cookie, "localhost", href.replace("fernhill", "library")],
    [cookie, "localhost", href.replace(name, "..%2F..%2F..%2Felkhorn.db")],
  ] as const) {
    const answer = await new Client(port, host).get(path, { headers: { cookie: who } });
    expect([host, path, answer.status === 404 || answer.status === 307, answer.text.includes("long ago")]).toEqual([
      host,
      path,
      true,
      false,
    ]);
  }
});
