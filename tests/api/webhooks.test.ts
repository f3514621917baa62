/** Webhooks through the back office: set up, told, tried, refused, paused; and nobody else's to touch. */
import { createServer, type Server } from "node:http";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

interface Got {
  readonly headers: Record<string, string>;
  readonly text: string;
}

const { port } = await ownServer();
const at = `http://localhost:${port}/portals/fernhill/connections/webhooks`;
const got: Got[] = [];
let status = 200;
let receiver: Server;
let address: string;
let b: Browser;

beforeAll(async () => {
  receiver = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on("data", (p: Buffer) => parts.push(p));
    request.on("end", () => {
      got.push({ headers: request.headers as Record<string, string>, text: Buffer.concat(parts).toString("utf8") });
      // Megabytes of an answer are nobody's to read.
      response.writeHead(status, { "content-type": "text/plain" }).end(`Thank you. ${"x".repeat(3_000_000)}`);
    });
  });
  await new Promise<void>((done) => receiver.listen(0, "127.0.0.1", done));
  address = `http://localhost:${(receiver.address() as { port: number }).port}/hook`;
  b = await openBrowser();
  await signInToOffice(b, port);
});
afterAll(async () => {
  await b.close();
  receiver.closeAllConnections();
  receiver.close();
});

let secret: string;

it("is made with its secret shown once; what is wrong is said beside its cause", async () => {
  await b.go(`${at}/new`);
  await b.type("#name", "Accounting");
  await b.type("#url", "http://127.0.0.1:9/hook");
  await b.choose("select[name=role]", "Lead");
  await b.choose("select[name=company]", "Saltmarsh Infirmary Group");
  await b.press("Make the webhook");
  await b.seesText("own network, where nothing is sent");
  await b.type("#url", address);
  await b.press("Make the webhook");
  await b.seesText("shown this once");
  secret = await b.attribute('input[aria-label="The secret"]', "value");
  expect(secret).toMatch(/^whsec_/);
  await b.press("I have kept it");
  await b.seesText("Nothing told yet");
});

it("tells what a client changes, signed, as its role reads it; of another company it tells nothing", async () => {
  const dana = await signedIn(port, "dana@saltmarsh.example");
  const maud = await signedIn(port, "maud@wexcombe.example");
  const body = (subject: string) => ({ body: { fields: { subject, kind: "Repair", urgency: "Can wait" } } });
  await maud.call("POST", "/api/v1/tables/requests/records", body("A secret of Wexcombe"));
  const added = await dana.call("POST", "/api/v1/tables/requests/records", body("A plate is loose"));
  expect(added.status).toBe(201);
  await b.until(async () => got.length > 0, "nothing was told");
  const [first] = got as [Got];
  // The library's own check: id, time and body by the secret that was shown.
  expect(new Webhook(secret).verify(first.text, first.headers)).toMatchObject({
    type: "record-added",
    data: { table: "requests", id: added.json.id, fields: { subject: "A plate is loose" } },
  });
  expect(JSON.stringify(got)).not.toContain("Wexcombe");
});

it("shows each message with its answer, and tells it again by hand under the same id", async () => {
  const [first] = got as [Got];
  await b.go(at);
  await b.press("Accounting");
  await b.seesText("taken (200)");
  await b.click("//details[.//span[contains(., 'taken (200)')]]/summary");
  await b.seesText("A plate is loose");
  await b.seesText("Thank you.");
  got.length = 0;
  await b.press("Send it again");
  await b.until(async () => got.length > 0, "it was not told again");
  expect([got[0]!.headers["webhook-id"], got[0]!.text]).toEqual([first.headers["webhook-id"], first.text]);
});

it("a test says at once what came back; a failing receiver is shown as failing", async () => {
  status = 500;
  await b.press("Send a test");
  await b.seesText("The test has not been taken. It answered 500.");
  status = 204;
  await b.press("Send a test");
  await b.seesText("The test has been taken. It answered 204.");
});

it("with a filter it tells of the records that meet it, and of no other", async () => {
  const page = await b.driver.getCurrentUrl();
  await b.go(`${page}/change`);
  await b.choose("#table", "Requests");
  await b.press("None");
  await b.press("Add a test");
  await b.choose('select[aria-label="Field"]', "Urgency");
  await b.choose('select[aria-label="Comparison"]', "is any of");
  await b.click("//fieldset[@aria-label='Values']//label[normalize-space()='Today']/input");
  await b.press("Keep the filter");
  await b.press("Save");
  await b.seesText("Send a test");
  got.length = 0;
  const dana = await signedIn(port, "dana@saltmarsh.example");
  for (const [subject, urgency] of [
    ["Whenever", "Can wait"],
    ["At once", "Today"],
  ])
    await dana.call("POST", "/api/v1/tables/requests/records", { body: { fields: { subject, kind: "Repair", urgency } } });
  await b.until(async () => got.length > 0, "nothing was told");
  expect(got.map((g) => JSON.parse(g.text).data.fields.subject)).toEqual(["At once"]);
  await b.go(`${page}/change`);
  await b.choose("#table", "All that the role sees");
  await b.press("Save");
  await b.seesText("Send a test");
});

it("paused it tells nothing, resumed what waited; changed, renewed and removed by the owner alone", async () => {
  await catchActions(b);
  await b.press("Pause");
  await b.seesText("Paused");
  got.length = 0;
  const dana = await signedIn(port, "dana@saltmarsh.example");
  await dana.call("POST", "/api/v1/tables/requests/records", {
    body: { fields: { subject: "While paused", kind: "Repair", urgency: "Can wait" } },
  });
  expect(got).toEqual([]);
  await b.press("New secret");
  await b.seesText("The former one signs as well for a day");
  const next = await b.attribute('input[aria-label="The new secret"]', "value");
  await b.press("Resume");
  await b.until(async () => got.length > 0, "what waited was not told");
  for (const s of [secret, next]) expect(() => new Webhook(s).verify(got[0]!.text, got[0]!.headers)).not.toThrow();
  const page = new URL(await b.driver.getCurrentUrl()).pathname;
  const asked = await caughtActions(b);
  expect(asked.length).toBe(3);
  // The second of them hands a secret out.
  await answersOwnerAlone(port, b, asked.slice(1, 2), page, /whsec_/);
  await b.go(`http://localhost:${port}${page}/change`);
  await b.type("#name", "Ledgers");
  await b.press("Save");
  await b.seesText("Ledgers");
  await b.press("Remove");
  await b.press("Remove Ledgers and its messages");
  await b.seesText("No webhooks yet");
});
