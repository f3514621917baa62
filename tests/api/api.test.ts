/** The HTTP API as its document has it: answers, problems, conditions, exports, description. */

import Papa from "papaparse";
import { readSheet } from "read-excel-file/node";
import { beforeAll, describe, expect, it } from "vitest";
import { type Answer, type Call, Client, signedIn } from "../support/client";
import { Contract, type Document } from "../support/contract";
import { ownServer } from "../support/server";

const { port } = await ownServer({ paths: true });
let dana: Client;
let ines: Client; // project lead of the agency
const f = (filter: unknown): string => `filter=${encodeURIComponent(JSON.stringify(filter))}`;

beforeAll(async () => {
  dana = await signedIn(port, "dana@saltmarsh.example");
  ines = await signedIn(port, "ines@fernhill.example");
});

const wellFormed = (a: Answer, status: number, type: string): void => {
  expect(a.headers["content-type"]).toBe("application/problem+json");
  expect(a.json).toMatchObject({ type, status, title: expect.any(String), detail: expect.stringMatching(/^[A-Z].*\.$/) });
  expect(a.status).toBe(status);
};

describe("problems (RFC 9457)", () => {
  // Section 3.1: type, title, status, detail; section 3: application/problem+json. `errors` is an extension member (3.2).
  it("not-signed-in", async () => wellFormed(await new Client(port, "fernhill.localhost").api("/me"), 401, "not-signed-in"));
  it("not-found", async () => wellFormed(await dana.api("/tables/never/records"), 404, "not-found"));
  it("a name that no portal has (RFC 9110 section 15.5.20)", async () =>
    wellFormed(await new Client(port, "never.localhost").api("/me"), 421, "about:blank"));
  it("not-allowed", async () =>
    wellFormed(await dana.call("POST", "/api/v1/tables/invoices/records", { body: { fields: {} } }), 403, "not-allowed"));
  it("plan-needed", async () =>
    wellFormed(await (await signedIn(port, "nell@northgale.example")).api("/tables/signs/records"), 403, "plan-needed"));
  it("plan-needed, with the way, where a month's allowance is used: exactly as many as are left, however many ask at once", async () => {
    const maud = await signedIn(port, "maud@wexcombe.example");
    const left = async (): Promise<number> => {
      const [a] = (await maud.api("/me")).json.allowances as { limit: number; used: number }[];
      return Math.max(0, a!.limit - a!.used);
    };
    const before = await left();
    const body = { fields: { subject: "A plate is loose", kind: "Repair", urgency: "Can wait" } };
    const asked = await Promise.all(Array.from({ length: 12 }, () => maud.call("POST", "/api/v1/tables/requests/records", { body })));
    expect(asked.filter((x) => x.status === 201)).toHaveLength(before);
    const refused = asked.filter((x) => x.status !== 201);
    for (const r of refused) wellFormed(r, 403, "plan-needed");
    expect(refused[0]!.json).toMatchObject({ way: "/plans", again: expect.stringMatching(/^\d{4}-\d{2}-01$/) });
    expect(await left()).toBe(0);
  });
  it("stale", async () => {
    const record = (await dana.api("/tables/proofs/records?limit=1")).json.records[0];
    const at = `/api/v1/tables/proofs/records/${record.id}`;
    const { etag } = (await dana.get(at)).headers;
    const first = await dana.call("PATCH", at, { body: { fields: { note: "Looks right." } }, headers: { "if-match": String(etag) } });
    expect([first.status, first.json.fields.note]).toEqual([200, "Looks right."]);
    wellFormed(await dana.call("PATCH", at, { body: { fields: { note: "No." } }, headers: { "if-match": String(etag) } }), 412, "stale");
    expect((await dana.get(at)).json.fields.note).toBe("Looks right.");
    expect((await dana.get(at)).headers.etag).toBe(first.headers.etag);
  });
  it("invalid names each field", async () => {
    const a = await dana.call("POST", "/api/v1/tables/requests/records", { body: { fields: { kind: "Party", never: 1, message: 5 } } });
    wellFormed(a, 422, "invalid");
    expect(a.json.errors).toEqual([
      { field: "kind", message: "“Party” is not one of: Repair, New sign, Wording change, Question." },
      { field: "never", message: "There is no such field." },
      { field: "message", message: "This must be text." },
    ]);
    const needed = await dana.call("POST", "/api/v1/tables/requests/records", { body: { fields: { kind: "Repair" } } });
    expect(needed.json.errors).toEqual([{ field: "subject", message: "Subject is needed." }]);
  });
  it("invalid for text of a megabyte in a short field, and for bodies that are none", async () => {
    const long = await dana.call("POST", "/api/v1/tables/requests/records", { body: { fields: { subject: "x".repeat(900_000) } } });
    expect(long.json.errors[0]).toEqual({ field: "subject", message: "This is 900,000 characters long; at most 1,000 fit." });
    wellFormed(await dana.call("POST", "/api/v1/tables/requests/records", { raw: "x".repeat(1_500_000) }), 413, "invalid");
    wellFormed(await dana.call("POST", "/api/v1/tables/requests/records", { raw: "{" }), 400, "invalid");
    wellFormed(await dana.call("POST", "/api/v1/tables/requests/records", { body: [] }), 422, "invalid");
    wellFormed(await new Client(port, "fernhill.localhost").call("POST", "/api/v1/session", { body: { email: 1 } }), 422, "invalid");
  });
  it.each(["limit=0", "limit=201", "limit=x", "filter=%7B", "sort=marks,", `cursor=abc`, `q=${"x".repeat(300)}`])("%s", async (query) => {
    const a = await dana.api(`/tables/signs/records?${query}`);
    expect([422, 404]).toContain(a.status);
    expect(a.headers["content-type"]).toBe("application/problem+json");
  });
});

describe("lists", () => {
  it("page by cursor through everything once, in order, forwards and backwards", async () => {
    for (const sort of ["code", "-code", "-fitted,code", "site,-code", "stage"]) {
      const seen: string[] = [];
      let cursor = "";
      do {
        const page = (await dana.api(`/tables/signs/records?limit=70&sort=${sort}${cursor && `&cursor=${encodeURIComponent(cursor)}`}`))
          .json;
        expect(page.total).toBe(308);
        seen.push(...page.records.map((r: { id: string }) => r.id));
        cursor = page.nextCursor ?? "";
      } while (cursor);
      expect([sort, seen.length, new Set(seen).size]).toEqual([sort, 308, 308]);
    }
  });
  it("filter by the tree", async () => {
    const total = async (filter: unknown): Promise<number> => (await dana.api(`/tables/signs/records?limit=1&${f(filter)}`)).json.total;
    const totem = { path: "type", operator: "is", value: "Totem" };
    const fitted = { path: "stage", operator: "any of", value: ["Fitted", "Repair"] };
    const [a, b, both, either, neither] = await Promise.all([
      total(totem),
      total(fitted),
      total({ "all of": [totem, fitted] }),
      total({ "any of": [totem, fitted] }),
      total({ not: { "any of": [totem, fitted] } }),
    ]);
    expect(either).toBe(a! + b! - both!);
    expect(neither).toBe(308 - either!);
    expect(both).toBeGreaterThan(0);
    expect(await total({ path: "project.company.name", operator: "contains", value: "SALTMARSH" })).toBe(308);
    expect(await total({ path: "fitted", operator: "is empty" })).toBe(308 - (await total({ path: "fitted", operator: "is not empty" })));
  });
  it("search ignores case and looks into names of related records", async () => {
    const total = async (q: string): Promise<number> => (await dana.api(`/tables/signs/records?q=${encodeURIComponent(q)}`)).json.total;
    expect(await total("sa-101")).toBe(1);
    expect(await total("STAFF COLLEGE")).toBeGreaterThan(10);
    expect(await total("recycled ACRYLIC")).toBeGreaterThan(10);
    expect(await total("%")).toBe(0);
    expect(await total("' OR 1=1 --")).toBe(0);
  });
  it("values: money with its currency, relations with id and label, dates ISO; of the agency who is shown, and nobody else", async () => {
    const invoice = (await dana.api("/tables/invoices/records?limit=1")).json.records[0].fields;
    expect(invoice.amount).toEqual({ amount: expect.any(Number), currency: "GBP" });
    expect(Number.isInteger(invoice.amount.amount)).toBe(true);
    expect(invoice.issued).toMatch(/^\d{4}-\d{2}-\d{2}$/);
    const project = (await dana.api("/tables/projects/records?limit=1")).json.records[0].fields;
    expect(project.lead).toEqual({ id: expect.any(String), label: "Ines Fairlough" });
    const people = (await dana.api("/tables/people/records?limit=100")).json.records.map(
      (x: { fields: { name: string } }) => x.fields.name,
    );
    expect([people.includes("Ines Fairlough"), people.includes("Tobias Renn")]).toEqual([true, false]);
    expect(project.company).toEqual({ id: expect.any(String), label: "Saltmarsh Infirmary Group" });
  });
});

describe("who and what", () => {
  it("GET /me", async () => {
    const me = (await dana.api("/me")).json;
    expect(Object.keys(me).sort()).toEqual(["allowances", "company", "features", "memberships", "person", "roles"]);
    expect(me.features.sort()).toEqual(["history", "portal", "reports"]);
    const agency = (await ines.api("/me")).json;
    expect([agency.company, agency.roles]).toEqual([null, [{ id: "project-lead", name: "Project lead" }]]);
  });
  it("GET /tables lists only what is open, with what may be done", async () => {
    const { tables } = (await dana.api("/tables")).json as {
      tables: { slug: string; actions: string[]; fields: { slug: string; actions: string[] }[] }[];
    };
    expect(tables.map((t) => t.slug)).not.toContain("price-book");
    const requests = tables.find((t) => t.slug === "requests")!;
    expect(requests.actions).toEqual(["see", "add", "export"]);
    expect(requests.fields.map((x) => x.slug)).not.toContain("internal-note");
    expect(requests.fields.find((x) => x.slug === "subject")!.actions).toEqual(["see", "change"]);
    expect(requests.fields.find((x) => x.slug === "status")!.actions).toEqual(["see"]);
  });
  it("DELETE /session ends it", async () => {
    const c = await signedIn(port, "caspar@tarnmere.example");
    const { cookie } = c;
    expect((await c.call("DELETE", "/api/v1/session")).status).toBe(204);
    c.cookie = cookie;
    expect((await c.api("/me")).status).toBe(401);
  });
  it("the cookie is HttpOnly, SameSite=Lax and bound to its path", async () => {
    const set = async (host: string, base: string): Promise<string> => {
      const a = await new Client(port, host, base).call("POST", "/api/v1/session", {
        body: { email: "dana@saltmarsh.example", password: "dana-reads-every-sign" },
      });
      return String(a.headers["set-cookie"]);
    };
    expect(await set("fernhill.localhost", "")).toMatch(/Path=\/;.*HttpOnly; SameSite=lax/i);
    expect(await set("localhost", "/p/fernhill")).toMatch(/Path=\/p\/fernhill;.*HttpOnly; SameSite=lax/i);
  });
  it("nothing is kept by caches", async () => {
    for (const path of ["/api/v1/me", "/api/v1/tables/signs/records", "/api/v1/tables/signs/export", "/signs"]) {
      expect([path, String((await dana.get(path)).headers["cache-control"])]).toEqual([path, expect.stringContaining("no-store")]);
    }
  });
});

describe("agency roles are not above the policy", () => {
  it("they see every company's, as far as their grants go", async () => {
    const signs = await ines.api("/tables/signs/records?limit=1");
    expect(signs.json.total).toBe(1239);
    expect(signs.json.records[0].fields["unit-cost"].currency).toBe("GBP");
    expect((await ines.api("/tables/invoices/records")).status).toBe(404);
    const tobias = await signedIn(port, "tobias@fernhill.example");
    expect((await tobias.api("/tables/people/records")).status).toBe(404);
    const project = (await tobias.api("/tables/projects/records?limit=1")).json.records[0];
    expect(Object.keys(project.fields)).not.toContain("margin");
  });
  it("they add, change and remove what they may; the company follows the relation", async () => {
    const project = (await dana.api("/tables/projects/records?limit=1")).json.records[0];
    const made = await ines.call("POST", "/api/v1/tables/signs/records", {
      body: { fields: { code: "NEW-1", project: project.id, type: "Totem" } },
    });
    expect(made.status).toBe(201);
    const at = `/api/v1/tables/signs/records/${made.json.id}`;
    expect((await dana.get(at)).json.fields.code).toBe("NEW-1");
    const rafe = await signedIn(port, "rafe@pellquay.example");
    expect((await rafe.get(at)).status).toBe(404);
    const theirs = (await rafe.api("/tables/projects/records?limit=1")).json.records[0];
    expect((await ines.call("PATCH", at, { body: { fields: { project: theirs.id } } })).status).toBe(200);
    expect([(await dana.get(at)).status, (await rafe.get(at)).status]).toEqual([404, 200]);
    wellFormed(await ines.call("DELETE", at, { headers: { "if-match": String(made.headers.etag) } }), 412, "stale");
    const { etag } = (await ines.get(at)).headers;
    expect((await ines.call("DELETE", at, { headers: { "if-match": String(etag) } })).status).toBe(204);
    expect((await rafe.get(at)).status).toBe(404);
  });
});

describe("exports", () => {
  it("CSV, JSON and XLSX hold the same rows, those of the list", async () => {
    const query = f({ path: "stage", operator: "is", value: "Fitted" });
    const list = (await dana.api(`/tables/signs/records?limit=200&${query}`)).json;
    const csv = Papa.parse<string[]>((await dana.api(`/tables/signs/export?format=csv&${query}`)).text.replace(/^\ufeff/, "").trim()).data;
    const json = (await dana.api(`/tables/signs/export?format=json&${query}`)).json.records;
    expect(csv).toHaveLength(list.total + 1);
    expect(json).toHaveLength(list.total);
    expect(csv.slice(1, 201).map((r) => r[0])).toEqual(list.records.map((r: { fields: { code: string } }) => r.fields.code));
    expect(csv[0]).not.toContain("Unit cost");
  });
  it("an XLSX file opens in a general-purpose reader (read-excel-file)", async () => {
    const bytesOf = (path: string) =>
      new Promise<Buffer>((done, fail) => {
        import("node:http").then(({ request }) => {
          request(
            {
              host: "127.0.0.1",
              port,
              path,
              headers: { host: `fernhill.localhost:${port}`, cookie: dana.cookie },
            },
            (res) => {
              const parts: Buffer[] = [];
              res.on("data", (p: Buffer) => parts.push(p));
              res.on("end", () => done(Buffer.concat(parts)));
            },
          )
            .on("error", fail)
            .end();
        });
      });
    const rows = await readSheet(await bytesOf("/api/v1/tables/sites/export?format=xlsx"));
    expect(rows[0]).toEqual(["Name", "Company", "Address", "Opening hours", "Map reference"]);
    expect(rows).toHaveLength(5);
    const [head, ...signs] = await readSheet(await bytesOf("/api/v1/tables/signs/export?format=xlsx&sort=-fitted"));
    const list = (await dana.api("/tables/signs/records?limit=200&sort=-fitted")).json;
    expect(signs).toHaveLength(list.total); // so many that a thread has made it
    const column = (name: string) => signs.map((r) => r[head!.indexOf(name)]);
    expect(column("Fitted on")[0]).toEqual(new Date(`${list.records[0].fields.fitted}T00:00:00Z`));
    expect(column("Code").slice(0, 200)).toEqual(list.records.map((x: { fields: { code: string } }) => x.fields.code));
  });
});

describe("OpenAPI", () => {
  it("describes what is open to the viewer and nothing else, at both addresses", async () => {
    const doc = (await dana.api("/openapi.json")).json;
    expect(doc.openapi).toBe("3.1.0");
    expect((await dana.get("/openapi.json")).json.paths).toEqual(doc.paths);
    expect(Object.keys(doc.paths)).toContain("/tables/signs/records/{id}");
    expect(JSON.stringify(doc)).not.toContain("price-book");
    expect(JSON.stringify(doc)).not.toContain("unit-cost");
    expect(doc.components.schemas.requests.properties.fields.properties.kind.enum).toContain("Repair");
    const visitor = (await new Client(port, "fernhill.localhost").get("/openapi.json")).json;
    expect(Object.keys(visitor.components.schemas).sort()).toEqual(["Problem", "standards"]);
  });
  const PEOPLE = [
    "dana@saltmarsh.example",
    "piers@saltmarsh.example",
    "noor@saltmarsh.example",
    "ivo@northgale.example",
    "ines@fernhill.example",
  ];
  it("every answer to whoever asks is as their document says (OpenAPI 3.1, JSON Schema 2020-12 by Ajv)", async () => {
    const breaches: string[] = [];
    let answers = 0;
    const nobody = new Client(port, "fernhill.localhost");
    for (const who of [nobody, ...(await Promise.all(PEOPLE.map((e) => signedIn(port, e))))]) {
      const contract = new Contract((await who.api("/openapi.json")).json);
      const call = async (method: string, path: string, at = path, c: Call = {}): Promise<Answer> => {
        const a = await who.call(method.toUpperCase(), `/api/v1${at}`, c);
        answers++;
        breaches.push(...contract.breaches(method, path, a));
        return a;
      };
      await call("get", "/me");
      await call("get", "/tables");
      for (const [path, operations] of Object.entries(contract.document.paths)) {
        const table = /^\/tables\/([^/]+)\/records$/.exec(path)?.[1];
        if (!table) continue;
        const list = await call("get", path, `${path}?limit=200`);
        for (const query of [
          "limit=0",
          "cursor=guess",
          "filter=%7B",
          "sort=nothing",
          "q=a&limit=2",
          `sort=-${Object.keys(list.json.records?.[0]?.fields ?? {})[0] ?? "x"}`,
        ])
          await call("get", path, `${path}?${query}`);
        const one = `${path}/{id}`;
        const at = `${path}/${list.json.records?.[0]?.id ?? "none"}`;
        const { etag } = (await call("get", one, at)).headers;
        await call("get", one, `${path}/00000000-0000-7000-8000-000000000000`);
        const bodies = [{}, { fields: {} }, { fields: {}, more: 1 }, { fields: { nothing: 1 } }];
        if (operations.post) for (const body of bodies) await call("post", path, path, { body });
        if (contract.document.paths[one]!.patch)
          for (const body of bodies.slice(1)) await call("patch", one, at, { body, headers: { "if-match": String(etag) } });
        if (contract.document.paths[one]!.patch) await call("patch", one, at, { body: { fields: {} }, headers: { "if-match": '"stale"' } });
        if (contract.document.paths[one]!.patch) await call("patch", one, at, { raw: "{" });
        if (contract.document.paths[one]!.delete) await call("delete", one, at, { headers: { "if-match": '"stale", "older"' } });
        if (contract.document.paths[`/tables/${table}/export`])
          for (const format of ["csv", "json", "xlsx", "pdf"])
            await call("get", `/tables/${table}/export`, `/tables/${table}/export?format=${format}`);
      }
    }
    expect(breaches).toEqual([]);
    // That it would be found: another shape, a status and a type that nobody documented.
    const contract = new Contract((await dana.api("/openapi.json")).json);
    const me = await dana.api("/me");
    for (const other of [
      { ...me, json: { ...me.json, more: 1 } },
      { ...me, status: 418 },
      { ...me, headers: { "content-type": "text/html" } },
    ])
      expect(contract.breaches("get", "/me", other)).toHaveLength(1);
    expect(answers).toBeGreaterThan(300);
  });

  it("an operation is documented for whom it is open, has an id, and says how to sign in", async () => {
    const docs = await Promise.all(
      [new Client(port, "fernhill.localhost"), dana, ines].map(async (c) => (await c.api("/openapi.json")).json as Document),
    );
    for (const [i, who] of [null, dana, ines].entries()) {
      const tables = who
        ? (await who.api("/tables")).json.tables
        : (await new Client(port, "fernhill.localhost").api("/tables")).json.tables;
      for (const t of tables as { slug: string; actions: string[] }[]) {
        const [list, one, file] = ["records", "records/{id}", "export"].map((x) => docs[i]!.paths[`/tables/${t.slug}/${x}`]);
        expect([t.slug, !!list!.post, !!one!.patch, !!one!.delete, !!file]).toEqual([
          t.slug,
          ...["add", "change", "remove", "export"].map((a) => t.actions.includes(a)),
        ]);
      }
      const ids = Object.values(docs[i]!.paths).flatMap((p) =>
        Object.entries(p)
          .filter(([m]) => m !== "parameters")
          .map(([, o]) => o.operationId),
      );
      expect(new Set(ids).size).toBe(ids.length);
      expect(ids.every((x) => /^[a-z][A-Za-z0-9]+$/.test(x))).toBe(true);
      expect(docs[i]!.components.securitySchemes).toMatchObject({
        session: { type: "apiKey", in: "cookie", name: expect.stringMatching(/^elkhorn_/) },
      });
    }
  });
  it("adding answers the record, its validator and its address; If-Match takes a list", async () => {
    const added = await dana.call("POST", "/api/v1/tables/requests/records", { body: { fields: { subject: "A list of validators" } } });
    const at = `/api/v1/tables/requests/records/${added.json.id}`;
    expect([added.status, added.headers.location]).toEqual([201, at]);
    expect((await dana.get(at)).headers.etag).toBe(added.headers.etag);
    const proof = `/api/v1/tables/proofs/records/${(await dana.api("/tables/proofs/records?limit=1")).json.records[0].id}`;
    const { etag } = (await dana.get(proof)).headers;
    const change = (ifMatch: string) =>
      dana.call("PATCH", proof, { body: { fields: {} }, headers: { "if-match": ifMatch } }).then((a) => a.status);
    expect([await change(`"old", ${etag}`), await change('"old", "older"'), await change(`W/${etag}`)]).toEqual([200, 412, 412]);
    const remove = (ifMatch: string) => ines.call("DELETE", at, { headers: { "if-match": ifMatch } }).then((a) => a.status);
    expect(await remove('"stale"')).not.toBe(204);
    expect((await dana.get(at)).status).toBe(200);
  });
  it("addresses and methods that there are not are problems, too", async () => {
    for (const path of ["/api/v1/never", "/api/v1", "/api", "/api/v2/me", "/api/v1/tables/signs/records/x/y"])
      for (const method of ["GET", "POST", "DELETE"]) wellFormed(await dana.call(method, path), 404, "not-found");
    for (const [method, path, allow] of [
      ["DELETE", "/api/v1/me", "GET, HEAD, OPTIONS"],
      ["PUT", "/api/v1/tables/signs/records", "GET, POST, HEAD, OPTIONS"],
      ["POST", "/api/v1/tables/signs/records/x", "GET, PATCH, DELETE, HEAD, OPTIONS"],
      ["GET", "/api/v1/session", "POST, DELETE, OPTIONS"],
    ] as const) {
      const a = await dana.call(method, path);
      wellFormed(a, 405, "no-method");
      expect(a.headers.allow).toBe(allow);
    }
  });
});
