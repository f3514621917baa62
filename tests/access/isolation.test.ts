/** Attempts to get through: from another company, from a lesser role, signed out. Every way in over HTTP. */
import { beforeAll, describe, expect, it } from "vitest";
import { Client, signedIn } from "../support/client";
import { ownServer } from "../support/server";

const { port } = await ownServer({ paths: true });
let dana: Client; // lead, Saltmarsh, every feature
let rafe: Client; // lead, Pell & Quay
let piers: Client; // site manager, Saltmarsh, two of four sites
let noor: Client; // approver, Saltmarsh
let ivo: Client; // lead, Northgale, lapsed
const nobody = new Client(port, "fernhill.localhost");
const tables = ["sites", "projects", "signs", "proofs", "requests", "invoices", "documents", "people", "companies"];

const f = (filter: unknown): string => `filter=${encodeURIComponent(JSON.stringify(filter))}`;
const ids = (a: { json: { records: { id: string }[] } }): string[] => a.json.records.map((r) => r.id);

beforeAll(async () => {
  [dana, rafe, piers, noor, ivo] = (await Promise.all(
    ["dana@saltmarsh.example", "rafe@pellquay.example", "piers@saltmarsh.example", "noor@saltmarsh.example", "ivo@northgale.example"].map(
      (e) => signedIn(port, e),
    ),
  )) as [Client, Client, Client, Client, Client];
});

async function everyRecord(c: Client, table: string): Promise<string[]> {
  const found: string[] = [];
  for (let cursor = ""; ; ) {
    const page = await c.api(`/tables/${table}/records?limit=200${cursor && `&cursor=${encodeURIComponent(cursor)}`}`);
    expect(page.status).toBe(200);
    found.push(...ids(page));
    if (!page.json.nextCursor) return found;
    cursor = page.json.nextCursor;
  }
}

describe("from another company", () => {
  it.each(tables)("%s: lists share nothing, and each other's ids do not exist", async (table) => {
    const [ours, all] = [await everyRecord(dana, table), await everyRecord(rafe, table)];
    expect(ours.length).toBeGreaterThan(0);
    // Somebody of the agency who is shown to clients is everybody's to see; nothing else is.
    const both = all.filter((id) => ours.includes(id));
    const named = await Promise.all(both.map(async (id) => (await dana.api(`/tables/${table}/records/${id}`)).json.fields.name));
    expect(named).toEqual(table === "people" ? ["Ines Fairlough"] : []);
    const theirs = all.filter((id) => !both.includes(id));
    expect(theirs.length).toBeGreaterThan(0);
    expect(new Set(ours).size).toBe(ours.length);
    const [there, made] = [
      await dana.api(`/tables/${table}/records/${theirs[0]}`),
      await dana.api(`/tables/${table}/records/00000000-0000-7000-8000-000000000000`),
    ];
    expect(there.status).toBe(404);
    expect(there.text).toBe(made.text); // the same body as for what never was
    const page = await dana.get(`/${table}/${theirs[0]}`);
    expect(page.status).toBe(404);
  });

  it("counts equal what can be read, and search, filters and sorts stay inside", async () => {
    const theirs = await rafe.api("/tables/signs/records?limit=1");
    const code = theirs.json.records[0].fields.code;
    for (const query of [
      `q=${code}`,
      f({ path: "code", operator: "is", value: code }),
      f({ path: "site", operator: "is", value: theirs.json.records[0].fields.site.id }),
      f({ path: "project.company.name", operator: "contains", value: "Pell" }),
      f({ not: { path: "project.company.name", operator: "contains", value: "Saltmarsh" } }),
    ]) {
      const a = await dana.api(`/tables/signs/records?${query}`);
      expect([a.status, a.json.total, a.json.records.length]).toEqual([200, 0, 0]);
    }
    expect((await dana.api("/tables/signs/records?limit=1")).json.total).toBe((await everyRecord(dana, "signs")).length);
  });

  it("a relation cannot be pointed at another company's record", async () => {
    const theirSite = ids(await rafe.api("/tables/sites/records?limit=1"))[0];
    const before = (await dana.api("/tables/requests/records?limit=1")).json.total;
    const answer = await dana.call("POST", "/api/v1/tables/requests/records", {
      body: { fields: { subject: "Reach across", site: theirSite } },
    });
    expect(answer.status).toBe(422);
    expect(answer.json.errors[0].field).toBe("site");
    const made = await dana.call("POST", "/api/v1/tables/requests/records", {
      body: { fields: { subject: "Reach across", site: "00000000-0000-7000-8000-000000000000" } },
    });
    expect(made.json.errors).toEqual(answer.json.errors); // one that never was reads the same
    expect((await dana.api("/tables/requests/records?limit=1")).json.total).toBe(before);
  });

  it("fields of the system are dropped, whatever the request carries", async () => {
    const theirCompany = (await rafe.api("/me")).json.company.id;
    const answer = await dana.call("POST", "/api/v1/tables/requests/records", {
      body: { fields: { subject: "Whose is it?", company: theirCompany } },
    });
    expect(answer.status).toBe(201);
    expect(answer.json.fields.company.label).toBe("Saltmarsh Infirmary Group");
    expect((await rafe.api("/tables/requests/records?q=Whose%20is%20it")).json.total).toBe(0);
  });

  it("a cursor of another viewer is refused", async () => {
    const { nextCursor } = (await rafe.api("/tables/signs/records?limit=5")).json;
    const answer = await dana.api(`/tables/signs/records?limit=5&cursor=${encodeURIComponent(nextCursor)}`);
    expect([answer.status, answer.json.type]).toEqual([422, "invalid"]);
    const own = (await dana.api("/tables/signs/records?limit=5")).json.nextCursor;
    expect((await piers.api(`/tables/signs/records?limit=5&cursor=${encodeURIComponent(own)}`)).status).toBe(422);
    expect((await dana.api(`/tables/signs/records?limit=5&sort=-code&cursor=${encodeURIComponent(own)}`)).status).toBe(422);
    expect((await dana.api(`/tables/signs/records?limit=5&cursor=${encodeURIComponent(own)}`)).status).toBe(200);
  });

  it("a person of two companies sees one at a time", async () => {
    const sunniva = await signedIn(port, "sunniva@pellquay.example");
    const me = (await sunniva.api("/me")).json;
    expect(me.memberships).toHaveLength(2);
    expect(me.company.name).toBe("Pell & Quay Ferries");
    expect((await sunniva.api("/tables/projects/records")).json.type).toBe("not-found"); // onlooker only at Brindle
  });
});

describe("from a lesser role", () => {
  it("a site manager sees the signs of given sites alone", async () => {
    const all = await everyRecord(dana, "signs");
    const mine = await everyRecord(piers, "signs");
    expect(mine.length).toBeGreaterThan(0);
    expect(mine.length).toBeLessThan(all.length);
    expect(mine.filter((id) => !all.includes(id))).toEqual([]);
    expect((await everyRecord(piers, "sites")).length).toBe(2);
    const other = all.find((id) => !mine.includes(id));
    expect((await piers.api(`/tables/signs/records/${other}`)).status).toBe(404);
  });

  it("fields and tables that are not open are not found, in filter and sort too", async () => {
    for (const path of [
      "/tables/price-book/records",
      "/tables/nothing/records",
      "/tables/signs/records?sort=unit-cost",
      `/tables/signs/records?${f({ path: "unit-cost", operator: "more than", value: { amount: 1, currency: "GBP" } })}`,
      `/tables/signs/records?${f({ path: "nothing", operator: "is", value: 1 })}`,
      `/tables/projects/records?${f({ path: "margin", operator: "more than", value: 1 })}`,
      `/tables/signs/records?${f({ path: "project.margin", operator: "more than", value: 1 })}`,
    ]) {
      const a = await dana.api(path);
      expect([path, a.status, a.json.type]).toEqual([path, 404, "not-found"]);
    }
    const [hidden, never] = [await dana.api("/tables/signs/records?sort=unit-cost"), await dana.api("/tables/signs/records?sort=nothing")];
    expect(hidden.text).toBe(never.text);
  });

  it("a field hidden on some rows is absent there, and sorting by it reveals nothing", async () => {
    const records = (await noor.api("/tables/signs/records?limit=200")).json.records as { fields: Record<string, unknown> }[];
    const proof = records.filter((r) => r.fields.stage === "Proof");
    const rest = records.filter((r) => r.fields.stage !== "Proof");
    expect(proof.length * rest.length).toBeGreaterThan(0);
    expect(proof.every((r) => "size" in r.fields)).toBe(true);
    expect(rest.every((r) => !("size" in r.fields) && !("material" in r.fields))).toBe(true);
    const oak = await noor.api(`/tables/signs/records?limit=200&${f({ path: "material", operator: "is", value: "Oak" })}`);
    expect(oak.json.records.length).toBeGreaterThan(0);
    expect(oak.json.records.every((r: { fields: { stage: string } }) => r.fields.stage === "Proof")).toBe(true);
  });

  it("writes that no grant gives are refused, and fields of another grant too", async () => {
    const proof = (await noor.api("/tables/proofs/records?limit=1")).json.records[0];
    const at = `/api/v1/tables/proofs/records/${proof.id}`;
    expect((await noor.call("PATCH", at, { body: { fields: { note: "Fine." } } })).status).toBe(200);
    expect((await noor.call("PATCH", at, { body: { fields: { title: "Mine" } } })).status).toBe(403);
    expect((await noor.call("DELETE", at)).status).toBe(403);
    expect((await noor.call("POST", "/api/v1/tables/proofs/records", { body: { fields: { title: "New" } } })).status).toBe(403);
    expect((await piers.call("PATCH", at, { body: { fields: { note: "x" } } })).status).toBe(404);
  });

  it("exporting needs its own grant", async () => {
    expect((await noor.api("/tables/signs/export")).json.type).toBe("not-allowed");
    const sheet = await piers.api("/tables/signs/export?format=json");
    expect(sheet.json.records).toHaveLength((await everyRecord(piers, "signs")).length);
    expect(sheet.text).not.toContain("unit-cost");
  });

  it("a lapsed company keeps its invoices; the rest is a plan's door", async () => {
    expect((await ivo.api("/tables/invoices/records")).json.total).toBeGreaterThan(0);
    expect((await ivo.api("/tables/signs/records")).json.type).toBe("plan-needed");
    expect((await ivo.api("/tables/requests/export")).json.type).toBe("plan-needed");
    expect((await ivo.call("POST", "/api/v1/tables/requests/records", { body: { fields: { subject: "x" } } })).status).toBe(403);
  });
});

describe("signed out", () => {
  it.each(tables)("%s: 401 alike for what exists and what does not", async (table) => {
    const [there, never] = [await nobody.api(`/tables/${table}/records`), await nobody.api("/tables/never/records")];
    expect([there.status, there.text]).toEqual([401, never.text]);
    expect((await nobody.api(`/tables/${table}/export`)).status).toBe(401);
    const page = await nobody.get(`/${table}`);
    expect([page.status, page.headers.location]).toEqual([307, `/sign-in?to=%2F${table}`]);
  });
  it("visitors see what is shared and granted, with the fields granted", async () => {
    const a = await nobody.api("/tables/standards/records?limit=1");
    expect(Object.keys(a.json.records[0].fields).sort()).toEqual(["kind", "title"]);
    expect((await nobody.api("/me")).status).toBe(401);
  });
  it("wrong pairs answer alike, known address or not", async () => {
    const call = (email: string) =>
      new Client(port, "fernhill.localhost").call("POST", "/api/v1/session", { body: { email, password: "not the password" } });
    const [known, unknown, inactive] = [
      await call("gwen@tarnmere.example"),
      await call("someone@else.example"),
      await call("aled@pellquay.example"),
    ];
    expect([known.status, unknown.status, inactive.status]).toEqual([401, 401, 401]);
    expect(known.text).toBe(unknown.text);
    expect(known.text).toBe(inactive.text);
  });
  it("people who are inactive, or wait for approval, do not get in with the right password either", async () => {
    await expect(signedIn(port, "aled@pellquay.example")).rejects.toThrow("401");
    await expect(signedIn(port, "ottilie@brindle.example")).rejects.toThrow("401");
  });
  it("a person of no company signs in and finds nothing, with the reason; even what exists is not there", async () => {
    const alban = await signedIn(port, "alban@wanderer.example");
    expect((await alban.api("/me")).json).toMatchObject({ company: null, memberships: [], roles: [], features: [] });
    expect((await alban.api("/tables")).json).toEqual({ tables: [] });
    const [sign] = ids(await dana.api("/tables/signs/records?limit=1"));
    for (const path of ["signs/records", `signs/records/${sign}`, "standards/records", "people/records", "signs/export"])
      expect([path, (await alban.api(`/tables/${path}`)).status]).toEqual([path, 404]);
    expect((await alban.call("POST", "/api/v1/tables/requests/records", { body: { fields: { subject: "Mine" } } })).status).toBe(404);
    const home = await alban.get("/");
    expect(home.text).toContain("Your account belongs to no company here.");
    const [there, never] = [await alban.get(`/signs/${sign}`), await alban.get("/signs/01a20929-0000-7000-8000-000000000000")];
    expect([there.status, never.status]).toEqual([404, 404]);
    expect(there.text).not.toContain("your roles may");
  });
  it("guessing grows slow", async () => {
    const c = new Client(port, "fernhill.localhost");
    let last = 0;
    for (let i = 0; i < 7; i++)
      last = (await c.call("POST", "/api/v1/session", { body: { email: "thea@tarnmere.example", password: `guess ${i}` } })).status;
    expect(last).toBe(429);
  });
});

describe("across portals and pages", () => {
  it("both addresses of a portal behave alike, each with a cookie of its own", async () => {
    const under = await signedIn(port, "dana@saltmarsh.example", "localhost", "/p/fernhill");
    expect((await under.api("/tables/signs/records")).json.total).toBe((await dana.api("/tables/signs/records")).json.total);
    const crossed = new Client(port, "elsewhere.localhost");
    crossed.cookie = dana.cookie;
    expect((await crossed.api("/me")).status).toBe(421);
    expect((await crossed.get("/p/fernhill/signs")).status).toBe(421);
    expect((await dana.get("/p/fernhill/signs")).status).toBe(404); // on a portal's host every path is that portal's
  });
  it("a page of elsewhere cannot write with the person's cookie", async () => {
    for (const origin of ["http://evil.example", "http://other.localhost", "null", `http://localhost:${port}`]) {
      const a = await dana.call("POST", "/api/v1/tables/requests/records", {
        body: { fields: { subject: "Forged" } },
        headers: { origin },
      });
      expect([origin, a.status]).toEqual([origin, 403]);
    }
  });
  it("inner headers of a client count for nothing", async () => {
    const a = await nobody.get("/signs", {
      headers: { "x-elkhorn-base": "/evil", "x-elkhorn-path": "//evil.example", "x-elkhorn-portal": "other" },
    });
    expect(a.headers.location).toBe("/sign-in?to=%2Fsigns");
  });
  it("the back office asks for its own sign-in", async () => {
    const c = new Client(port, "localhost");
    c.cookie = dana.cookie;
    for (const path of ["/", "/portals/fernhill/data", "/portals/fernhill/people"]) expect((await c.get(path)).status).toBe(307);
    expect((await c.call("POST", "/portals/fernhill/data/import/upload", { raw: "a,b\n1,2\n" })).status).toBe(401);
  });
});
