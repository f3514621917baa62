/** Keys of programs: made in the back office, used at the API, and what they never open. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { type Answer, type Call, Client, signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer({ paths: true });
const HOST = "fernhill.localhost";
const keysAt = `http://localhost:${port}/portals/fernhill/connections/keys`;
let b: Browser;

beforeAll(async () => {
  b = await openBrowser();
  await signInToOffice(b, port);
});
afterAll(() => b.close());

/** A program: no cookie, and the key in its header. */
const asks = (token: string, method: string, path: string, c: Call = {}, host = HOST): Promise<Answer> =>
  new Client(port, host).call(method, path, { ...c, headers: { authorization: `Bearer ${token}`, ...c.headers } });

interface Wanted {
  readonly name: string;
  readonly role: string;
  readonly company?: string;
  /** Boxes of tables, such as "See: Signs"; all where there are none. */
  readonly reach?: readonly string[];
  readonly networks?: string;
  readonly perMinute?: string;
}

async function makeKey(w: Wanted): Promise<string> {
  await b.go(`${keysAt}/new`);
  await b.type("#name", w.name);
  await b.choose("select[name=role]", w.role);
  if (w.company) await b.choose("select[name=company]", w.company);
  if (w.reach) for (const box of w.reach) await b.click(`input[aria-label="${box}"]`);
  else await b.click("input[name=reach][value=all]");
  if (w.networks) await b.type("#networks", w.networks);
  if (w.perMinute) await b.type("#perMinute", w.perMinute);
  await b.press("Make the key");
  await b.seesText("it is shown this once");
  return b.attribute('input[aria-label="The key"]', "value");
}

describe("a key of a role of clients", () => {
  let token: string;
  beforeAll(async () => {
    token = await makeKey({ name: "Accounting", role: "Lead", company: "Saltmarsh Infirmary Group" });
  });

  it("sees what a person of that role and company sees, no record more", async () => {
    const dana = await signedIn(port, "dana@saltmarsh.example");
    const tables = (await asks(token, "GET", "/api/v1/tables")).json.tables as { slug: string }[];
    expect(tables.length).toBeGreaterThan(3);
    for (const { slug } of tables) {
      const ids = (a: Answer): string[] => (a.json.records as { id: string }[]).map((r) => r.id).sort();
      const [hers, its] = [
        await dana.api(`/tables/${slug}/records?limit=200`),
        await asks(token, "GET", `/api/v1/tables/${slug}/records?limit=200`),
      ];
      expect(its.status).toBe(200);
      // A person sees their own records besides: a key of a role is nobody.
      for (const id of ids(its)) expect(ids(hers)).toContain(id);
    }
    expect((await asks(token, "GET", "/api/v1/me")).json).toMatchObject({
      person: null,
      company: { name: "Saltmarsh Infirmary Group" },
      memberships: [],
    });
  });
  it("does not reach another company's record by its id, to read, change or remove it", async () => {
    const maud = await signedIn(port, "maud@wexcombe.example");
    const theirs = (await maud.api("/tables/requests/records?limit=1")).json.records[0] as { id: string };
    expect(theirs.id).toBeTruthy();
    const at = `/api/v1/tables/requests/records/${theirs.id}`;
    const body = { fields: { subject: "Taken" } };
    expect([(await asks(token, "GET", at)).status, (await asks(token, "PATCH", at, { body })).status]).toEqual([404, 404]);
    expect((await asks(token, "DELETE", at)).status).toBe(404);
    expect((await maud.api(`/tables/requests/records/${theirs.id}`)).status).toBe(200);
  });
  it("adds a record, which the log says", async () => {
    const body = { fields: { subject: "A plate is loose", kind: "Repair", urgency: "Can wait" } };
    const added = await asks(token, "POST", "/api/v1/tables/requests/records", { body });
    expect(added.status).toBe(201);
    await b.go(`http://localhost:${port}/portals/fernhill/log`);
    await b.seesText(/the key Accounting/);
  });
  it("is the only thing that counts: neither a cookie beside it nor the page it is sent from", async () => {
    const nell = await signedIn(port, "nell@northgale.example");
    const me = await asks(token, "GET", "/api/v1/me", { headers: { cookie: nell.cookie } });
    expect(me.json.company.name).toBe("Saltmarsh Infirmary Group");
    const body = { email: "dana@saltmarsh.example", password: "x" };
    expect((await asks(token, "POST", "/api/v1/session", { body })).status).toBe(403);
    const wrong = await asks("elkhorn_none", "GET", "/api/v1/me", { headers: { cookie: nell.cookie } });
    expect([wrong.status, wrong.headers["www-authenticate"]]).toEqual([401, expect.stringContaining("Bearer")]);
  });
  it("opens no page and no other portal, and is not taken in an address", async () => {
    expect((await asks(token, "GET", "/projects")).status).not.toBe(200);
    expect((await asks(token, "GET", "/api/v1/me", {}, "library.localhost")).status).toBe(401);
    const inAddress = await new Client(port, HOST).api(`/me?key=${token}`);
    expect([inAddress.status, inAddress.json.type]).toEqual([400, "key-in-address"]);
    expect((await asks(token, "GET", `/api/v1/tables?x=${token}`)).status).toBe(400);
    await b.go(keysAt);
    await b.seesText("It stood in an address");
  });
  it("is told when and from where it was used; ended it opens nothing, brought back it does", async () => {
    await b.go(keysAt);
    await b.seesText(/from 127\.0\.0\.1/);
    await b.click('button[aria-label="End the key Accounting"]');
    await b.seesText("Accounting opens nothing any more.");
    expect((await asks(token, "GET", "/api/v1/me")).json.detail).toBe("This key has ended.");
    await b.press("Undo");
    await b.until(async () => (await asks(token, "GET", "/api/v1/me")).status === 200);
  });
});

it("is kept to what was ticked, to its addresses and to its requests a minute", async () => {
  const signs = await makeKey({ name: "Signs only", role: "Project lead", reach: ["See: Signs"], perMinute: "3" });
  const tables = await asks(signs, "GET", "/api/v1/tables");
  expect(tables.json.tables.map((t: { slug: string; actions: string[] }) => [t.slug, t.actions])).toEqual([["signs", ["see"]]]);
  expect(tables.headers).toMatchObject({ "ratelimit-policy": '"key";q=3;w=60', ratelimit: expect.stringMatching(/^"key";r=2;t=\d+$/) });
  expect((await asks(signs, "GET", "/api/v1/tables/projects/records")).status).toBe(404);
  expect((await asks(signs, "GET", "/api/v1/tables/signs/export?format=csv")).status).not.toBe(200);
  const over = await asks(signs, "GET", "/api/v1/tables");
  expect([over.status, over.json.type, Number(over.headers["retry-after"]) > 0]).toEqual([429, "too-many", true]);
  const far = await makeKey({ name: "Far", role: "Project lead", networks: "192.0.2.0/24" });
  expect((await asks(far, "GET", "/api/v1/me")).json.detail).toBe("This key is not taken from this address.");
});

it("a person's key does what that person may, from their page; the form keeps what was typed where something is wrong", async () => {
  await b.go(`http://localhost:${port}/portals/fernhill/people?q=dana`);
  await b.press("Dana Achterberg");
  await b.press("Key for a program");
  await b.seesText("Dana Achterberg. Choose another");
  await b.type("#name", "Her phone");
  await b.type("#networks", "here");
  await b.click("input[name=reach][value=all]");
  await b.press("Make the key");
  await b.seesText("“here” is no address");
  expect(await b.attribute("#name", "value")).toBe("Her phone");
  await b.type("#networks", "");
  await catchActions(b);
  await b.press("Make the key");
  await b.seesText("it is shown this once");
  const token = await b.attribute('input[aria-label="The key"]', "value");
  expect((await asks(token, "GET", "/api/v1/me")).json).toMatchObject({ person: { name: "Dana Achterberg" } });
  await answersOwnerAlone(port, b, await caughtActions(b), "/portals/fernhill/connections/keys/new", /shown this once|elkhorn_/);
});
