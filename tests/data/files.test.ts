/** Files through the real doors: sent from a form and by a tus client, had by whoever sees their field, and by nobody else. */
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { Upload } from "tus-js-client";
import { afterAll, beforeAll, expect, it } from "vitest";
import { fieldBySlug } from "@/core/schema/types";
import { published, storePublished } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { PUBLISHER } from "@/testing/world";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInAt } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const folder = mkdtempSync(join(tmpdir(), "elkhorn-sent-"));
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const PDF = Buffer.from("%PDF-1.7\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF\n");
let dana: Browser;
let papers = "";
let fromForm = "";

/** Requests with pictures and papers: leads give both; whoever else sees requests has neither, approvers the papers' names. */
beforeAll(async () => {
  const file = portalFile("fernhill", false, data)!;
  const table = schemaOf(file).tableBySlug("requests")!;
  const photos = addField(file, table.id, { slug: "photos", name: "Photographs", type: "pictures" });
  papers = addField(file, table.id, { slug: "papers", name: "Papers", type: "files" });
  const d = structuredClone(published(file).definition);
  for (const g of d.grants.filter((x) => x.table === table.id && x.roles.includes("lead"))) {
    g.fields.push(photos, papers);
    if (g.changes.length > 0) g.changes.push(photos, papers);
  }
  const own = { id: "g_names", roles: ["approver"], table: table.id, actions: ["see" as const], filter: null, changes: [] };
  d.grants.push({ ...own, fields: [fieldBySlug(table, "subject")?.id ?? table.labelFieldId, papers], namesOnly: [papers] });
  storePublished(file, d, PUBLISHER);
  file.rest?.();
  dana = await openBrowser();
  await signInAt(dana, portal("/sign-in"), "dana@saltmarsh.example");
});
afterAll(async () => {
  await dana.close();
  rmSync(folder, { recursive: true, force: true });
});

it("a form takes pictures and papers as they are chosen; what is no picture is told beside it, and nothing typed is lost", async () => {
  const picture = join(folder, "wall.png");
  writeFileSync(
    picture,
    await sharp({ create: { width: 640, height: 480, channels: 3, background: "#884422" } })
      .png()
      .toBuffer(),
  );
  const fake = join(folder, "fake.png");
  writeFileSync(fake, PDF);
  const paper = join(folder, "plan of the wall.pdf");
  writeFileSync(paper, PDF);
  await dana.go(portal("/requests/new"));
  const subject = "//label[normalize-space(text())='Subject']/following-sibling::input";
  await dana.type(subject, "A wall with a crack");
  const choose = (name: string): string => `//label[starts-with(normalize-space(.),'${name}')]/following-sibling::div//input[@type='file']`;
  await dana.keys(choose("Photographs"), fake);
  await dana.seesText("This is no picture that can be shown (it is application/pdf).");
  await dana.keys(choose("Photographs"), picture);
  await dana.keys(choose("Papers"), paper);
  expect(await dana.attribute(subject, "value")).toBe("A wall with a crack");
  // Nothing is saved without a file that somebody meant to go with it.
  await dana.press("Add the request");
  await dana.seesText("Nothing is saved yet. These files did not arrive; try them again or remove them: fake.png");
  expect(await dana.attribute(subject, "value")).toBe("A wall with a crack");
  await dana.press("Take away fake.png");
  await dana.press("Add the request");
  await dana.seesText("plan of the wall.pdf");
  const shown = "return [...document.images].map((i) => [i.alt, i.complete && i.naturalWidth])";
  await dana.until(
    async () => ((await dana.driver.executeScript<[string, number][]>(shown)).find(([alt]) => alt === "wall.png")?.[1] ?? 0) > 0,
  );
  fromForm = await dana.attribute("//a[contains(.,'plan of the wall.pdf')]", "href");
});

/** Files stay on their way until `let go`; which of them have been sent off is counted by the page. */
const holdUploads = (b: Browser): Promise<unknown> =>
  b.driver.executeScript(`
    const send = XMLHttpRequest.prototype.send; window.held = [];
    XMLHttpRequest.prototype.send = function (body) { window.held.push(() => send.call(this, body)); };
    window.letGo = () => { XMLHttpRequest.prototype.send = send; for (const go of window.held.splice(0)) go(); };`);

it("saving waits for files on their way, says for which, and can be cancelled; a message does the same", async () => {
  const [one, two, three] = ["first.txt", "second.txt", "third.txt"].map((name) => {
    writeFileSync(join(folder, name), name);
    return join(folder, name);
  });
  await dana.go(portal("/requests/new"));
  await holdUploads(dana);
  await dana.type("//label[normalize-space(text())='Subject']/following-sibling::input", "Three files at once");
  await dana.keys(
    "//label[starts-with(normalize-space(.),'Papers')]/following-sibling::div//input[@type='file']",
    `${one}\n${two}\n${three}`,
  );
  await dana.press("Add the request");
  await dana.seesText("Saving when these files have arrived: first.txt, second.txt, third.txt");
  await dana.click("//*[@role='status' and contains(., 'Saving when')]//button");
  await dana.until(async () => !(await dana.text()).includes("Saving when"));
  expect(new URL(await dana.driver.getCurrentUrl()).pathname).toBe("/requests/new");
  await dana.press("Add the request");
  await dana.seesText("Saving when these files have arrived");
  await dana.driver.executeScript("window.letGo()");
  await dana.until(async () => !(await dana.driver.getCurrentUrl()).endsWith("/new"));
  for (const name of ["first.txt", "second.txt", "third.txt"]) await dana.seesText(name);
  // In a conversation.
  await holdUploads(dana);
  await dana.type("textarea[name='words']", "Two more");
  await dana.keys("//fieldset[contains(., 'Files that go with it')]//input[@type='file']", `${one}\n${two}`);
  await dana.press("Send");
  await dana.seesText("Saving when these files have arrived: first.txt, second.txt");
  await dana.driver.executeScript("window.letGo()");
  await dana.until(async () => (await dana.count("a[href*='/talk/']")) === 2);
});

it("its address is checked at each request: another company, another role and nobody get the very answer of what never was", async () => {
  const path = new URL(fromForm).pathname;
  const [lead, rafe, noor] = await Promise.all(
    ["dana@saltmarsh.example", "rafe@pellquay.example", "noor@saltmarsh.example"].map((e) => signedIn(port, e)),
  );
  const had = await lead!.get(path);
  expect([had.status, had.text, had.headers["x-content-type-options"], had.headers["cache-control"]]).toEqual([
    200,
    PDF.toString(),
    "nosniff",
    "private, no-cache",
  ]);
  expect((await lead!.get(path, { headers: { range: "bytes=0-3" } })).text).toBe("%PDF");
  const never = await rafe!.get(path.replace(/\/[0-9a-f-]{36}\//, "/00000000-0000-7000-8000-000000000000/"));
  for (const who of [rafe!, noor!, new Client(port, "fernhill.localhost"), new Client(port, "localhost")]) {
    const answer = await who.get(path);
    expect([answer.status, answer.text.replace(/<[\s\S]*/, "")]).toEqual([404, who.host === "localhost" ? expect.any(String) : never.text]);
  }
  // The owner has it at the back office's address, and there alone.
  expect((await new Client(port, "localhost").get(`/portals/fernhill${path}`)).status).toBe(404);
  // By name only: the name is there, its content is not.
  const named = await noor!.api("/tables/requests/records?q=crack");
  const record = named.json.records.find((r: { fields: { papers?: { name: string }[] } }) => r.fields.papers?.length);
  expect(record?.fields.papers).toMatchObject([{ name: "plan of the wall.pdf", href: null }]);
  expect(JSON.stringify(record)).not.toContain("wall.png");
});

it("a tus client sends it in pieces and goes on after a break; the API takes it by its id, once", async () => {
  const lead = await signedIn(port, "dana@saltmarsh.example");
  const content = Buffer.alloc(700_000, "0123456789");
  const send = (cookie: string, field: string): Promise<string> =>
    new Promise((done, fail) => {
      const upload = new Upload(content, {
        endpoint: `http://127.0.0.1:${port}/-/uploads`,
        headers: { host: `fernhill.localhost:${port}`, cookie },
        chunkSize: 256 * 1024,
        uploadSize: content.length,
        retryDelays: null,
        metadata: { filename: "log.txt", field },
        onSuccess: () => done(upload.url!.split("/").pop()!),
        onError: fail,
      });
      upload.start();
    });
  const id = await send(lead.cookie, papers);
  const rafe = await signedIn(port, "rafe@pellquay.example");
  await expect(send("", papers)).rejects.toThrow("404");
  const fields = { subject: "A log", papers: [id] };
  const taken = await rafe.call("POST", "/api/v1/tables/requests/records", { body: { fields } });
  expect([taken.status, taken.json.errors?.[0]?.message]).toEqual([422, "One of these files is not here any more. Choose it again."]);
  const made = await lead.call("POST", "/api/v1/tables/requests/records", { body: { fields } });
  expect([made.status, made.json.fields.papers[0]]).toMatchObject([
    201,
    { id, name: "log.txt", type: "text/plain", bytes: content.length },
  ]);
  const had = await lead.get(made.json.fields.papers[0].href);
  expect(had.text).toBe(content.toString());
  // Its own policy comes through the proxy whole: nothing in it runs, and no page's policy stands in its place or beside it.
  expect(had.headers["content-security-policy"]).toBe(
    "default-src 'none'; img-src 'self'; style-src 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'; sandbox",
  );
  expect((await lead.get("/")).headers["content-security-policy"]).toContain("'nonce-");
  expect((await lead.call("POST", "/api/v1/tables/requests/records", { body: { fields } })).status).toBe(422);
  // Pieces of somebody else's upload, and pieces without an origin of this portal, are not taken.
  const begun = await lead.call("POST", "/-/uploads", {
    headers: { "upload-length": "3", "upload-metadata": `field ${Buffer.from(papers).toString("base64")}` },
  });
  const at = String(begun.headers.location);
  const piece = { raw: "abc", headers: { "content-type": "application/offset+octet-stream", "upload-offset": "0" } };
  expect([begun.status, (await rafe.call("PATCH", at, piece)).status]).toEqual([201, 404]);
  expect((await lead.call("PATCH", at, { ...piece, headers: { ...piece.headers, origin: "http://evil.example" } })).status).toBe(403);
  expect((await lead.call("PATCH", at, piece)).headers["upload-offset"]).toBe("3");
  expect(
    (
      await lead.call("POST", "/-/uploads", {
        headers: { "upload-length": String(2 * 1024 ** 3), "upload-metadata": `field ${Buffer.from(papers).toString("base64")}` },
      })
    ).text,
  ).toBe("This file is larger than 250 MB.");
});
