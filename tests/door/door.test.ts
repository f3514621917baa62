/** The door before everything else: names of hosts, headers of every answer, requests that can only be wrong, and both ways into a portal. */
import { once } from "node:events";
import { connect } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { enter, leave, signInAt, signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const { port: onPaths } = await ownServer({ paths: true });
/** As though something before it took https off. */
const { port: secure } = await ownServer({ paths: true, address: "https://elkhorn.example" });
const fernhill = new Client(port, "fernhill.localhost");
const main = new Client(port, "localhost");
let b: Browser;

beforeAll(async () => {
  b = await openBrowser();
});
afterAll(() => b.close());

/** The status and headers that come for these very bytes. */
async function raw(text: string, at = port): Promise<{ status: number; head: string }> {
  const socket = connect(at, "localhost");
  let heard = "";
  socket.setEncoding("latin1").on("data", (d: string) => {
    heard += d;
    if (heard.includes("\r\n\r\n")) socket.destroy();
  });
  socket.write(text);
  await once(socket, "close");
  return { status: Number(heard.split(" ")[1]), head: heard.split("\r\n\r\n")[0]!.toLowerCase() };
}
const asked = (line: string, host = `fernhill.localhost:${port}`, more = ""): string =>
  `${line} HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\n${more}\r\n`;

describe("hosts", () => {
  it.each([
    "..localhost",
    ".localhost",
    "fernhill.localhost.",
    "localhost.",
    "nobody.localhost",
    "a.fernhill.localhost",
    "evil.example",
    "127.0.0.1",
    "",
    "%66ernhill.localhost",
  ])("%j is nobody's name", async (host) => {
    for (const path of ["/", "/sign-in", "/api/v1/me", "/signs", "/p/fernhill", "/portals/fernhill/data"])
      expect([path, (await raw(asked(`GET ${path}`, host && `${host}:${port}`))).status]).toEqual([path, 421]);
    expect((await raw(asked("GET /-/health", host && `${host}:${port}`))).status).toBe(200);
  });
  it("the host in an absolute address comes before the Host header (RFC 9112 section 3.2.2)", async () => {
    expect((await raw(asked(`GET http://fernhill.localhost:${port}/api/v1/me`, "evil.example"))).status).toBe(401);
    expect((await raw(asked("GET http://evil.example/api/v1/me"))).status).toBe(421);
    expect((await raw(asked("GET http://[/"))).status).toBe(400);
  });
  it("an upload is taken on the main host alone", async () => {
    const dana = await signedIn(port, "dana@saltmarsh.example");
    for (const [who, status] of [
      [fernhill, 401],
      [dana, 401],
      [new Client(port, "evil.localhost"), 401],
      [main, 401],
    ] as const)
      expect((await who.call("POST", "/portals/fernhill/data/import/upload", { raw: "a,b\n1,2\n" })).status).toBe(status);
  });
});

describe("requests that can only be wrong are told so", () => {
  it.each([
    ["GET /%", 400],
    ["GET /signs/%zz", 400],
    ["GET /%E0%A4%A", 400],
    ["GET /%ff", 400],
    ["GET /a%00b", 400],
    ["GET /portals/%/data", 400],
    ["GET /api/v1/tables/%/records", 400],
    ["TRACE /", 405],
    ["PROPFIND /signs", 405],
    ["OPTIONS *", 400],
  ])("%s: %i", async (line, status) => {
    for (const host of ["fernhill.localhost", "localhost"]) expect((await raw(asked(line, `${host}:${port}`))).status).toBe(status);
  });
  it("the API's are problems (RFC 9457)", async () => {
    const a = await fernhill.get("/api/v1/tables/%/records");
    expect([a.status, a.headers["content-type"], a.json]).toEqual([
      400,
      "application/problem+json",
      expect.objectContaining({ status: 400, title: "Bad request" }),
    ]);
  });
  it("a body is measured before it is read", async () => {
    for (const path of ["/sign-in", "/api/v1/session", "/api/v1/tables/requests/records", "/portals/fernhill/data/import/x"])
      expect([path, (await raw(asked(`POST ${path}`, undefined, "Content-Length: 52428800\r\n"))).status]).toEqual([path, 413]);
    expect(
      (await raw(asked("POST /portals/fernhill/data/import/upload", `localhost:${port}`, "Content-Length: 99428800\r\n"))).status,
    ).toBe(413);
    expect((await raw(asked("POST /sign-in", undefined, "Transfer-Encoding: chunked\r\n"))).status).toBe(411);
  });
  it.each([
    ["multipart/form-data; boundary=x", "no multipart"],
    ["multipart/form-data; boundary=x", '--x\r\nContent-Disposition: form-data; name="a"\r\n\r\nbroken off'],
    ["multipart/form-data", "--x--"],
    ["multipart/form-data; boundary=x", ""],
  ])("a form that is none (%s, %j)", async (type, body) => {
    for (const who of [fernhill, main])
      for (const headers of [{}, { "next-action": "0123456789" }] as Record<string, string>[])
        expect((await who.call("POST", "/sign-in", { raw: body, headers: { "content-type": type, ...headers } })).status).toBe(400);
  });
  it("a file whose name is badly encoded is a file all the same", async () => {
    await signInToOffice(b, port);
    const cookie = (await b.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");
    for (const name of ["%", "%E0%A4%A", "50%.csv"]) {
      const headers = { cookie, "x-file-name": name, origin: `http://localhost:${port}`, "content-type": "text/csv" };
      expect((await main.call("POST", "/portals/fernhill/data/import/upload", { raw: "a,b\n1,2\n", headers })).status).toBe(200);
    }
  });
  it("the way on after signing in may hold any letters, and leads nowhere else", async () => {
    await leave(b);
    const at = `http://fernhill.localhost:${port}`;
    await signInAt(b, `${at}/sign-in?to=${encodeURIComponent("/signs?q=Жук")}`, "dana@saltmarsh.example");
    expect(await b.driver.getCurrentUrl()).toBe(`${at}/signs?q=${encodeURIComponent("Жук")}`);
    await leave(b);
    await signInAt(b, `${at}/sign-in?to=${encodeURIComponent("/.//evil.example")}`, "dana@saltmarsh.example");
    expect(await b.driver.getCurrentUrl()).toBe(`${at}/`);
  });
});

describe("headers", () => {
  const everywhere = [
    [fernhill, "/sign-in", 200],
    [fernhill, "/signs", 307],
    [fernhill, "/nothing/here/at/all", 404],
    [fernhill, "/api/v1/me", 401],
    [fernhill, "/api/v1/never", 404],
    [fernhill, "/%", 400],
    [main, "/sign-in", 200],
    [main, "/", 307],
    [main, "/nothing", 404],
    [main, "/portals/fernhill/data", 307],
    [main, "/-/health", 200],
    [new Client(port, "evil.example"), "/", 421],
  ] as const;
  it.each(everywhere)("%# every answer carries them", async (who, path, status) => {
    const a = await who.get(path);
    expect([path, a.status]).toEqual([path, status]);
    expect(a.headers).toMatchObject({
      "x-content-type-options": "nosniff",
      "referrer-policy": "same-origin",
      "permissions-policy": expect.stringContaining("camera=()"),
      "cross-origin-opener-policy": "same-origin",
      "content-security-policy": expect.stringContaining("default-src 'none'"),
    });
    const policy = String(a.headers["content-security-policy"]);
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).not.toMatch(/unsafe-eval|script-src[^;]*unsafe-inline|\*;|https?:;/);
    expect(a.headers["x-powered-by"]).toBeUndefined();
    expect(JSON.stringify(a.headers)).not.toContain("/p/fernhill"); // where the host led to inside
  });
  it("Next's own files carry them, too", async () => {
    const [script] = /\/_next\/static\/[^"]+\.js/.exec((await fernhill.get("/sign-in")).text)!;
    expect((await fernhill.get(script!)).headers).toMatchObject({
      "x-content-type-options": "nosniff",
      "content-security-policy": expect.any(String),
    });
  });
  it("an address is not echoed with its query", async () => {
    const dana = await signedIn(port, "dana@saltmarsh.example");
    const led = String((await dana.get("/signs?q=secretwords", { headers: { rsc: "1" } })).headers.location);
    for (const [path, headers] of [
      ["/signs?q=secretwords", {}],
      [led, { rsc: "1" }],
    ] as [string, Record<string, string>][]) {
      const a = await dana.get(path, { headers });
      expect([path, a.status, JSON.stringify(a.headers).includes("secretwords")]).toEqual([path, 200, false]);
    }
  });
  it("every script of a page has that page's nonce, and no page is refused one of its own", async () => {
    const dana = await signedIn(port, "dana@saltmarsh.example");
    for (const [who, path] of [
      [dana, "/"],
      [dana, "/signs"],
      [dana, "/nothing"],
      [fernhill, "/sign-in"],
      [main, "/sign-in"],
      [main, "/nothing"],
    ] as const) {
      const { text, headers } = await who.get(path);
      const [, nonce] = /'nonce-([0-9a-f]+)'/.exec(String(headers["content-security-policy"]))!;
      const scripts = text.match(/<script[^>]*>/g) ?? [];
      expect([path, scripts.length > 0]).toEqual([path, true]);
      expect([path, scripts.filter((s) => !s.includes(`nonce="${nonce}"`))]).toEqual([path, []]);
    }
    const complaints: string[] = [];
    const look = async (url: string) => {
      await b.go(url);
      for (const l of await b.driver.manage().logs().get("browser"))
        if (/content security policy/i.test(l.message)) complaints.push(`${url} ${l.message}`);
    };
    await enter(b, port, "dana@saltmarsh.example");
    for (const path of ["/", "/signs", "/requests/new", "/plans", "/nothing"]) await look(`http://fernhill.localhost:${port}${path}`);
    await signInToOffice(b, port);
    for (const path of ["", "/data", "/data/signs", "/data/import", "/access", "/brand", "/plans", "/check", "/sightlines", "/publish"])
      await look(`http://localhost:${port}/portals/fernhill${path}`);
    expect(complaints).toEqual([]);
  });
});

// RFC 6265bis section 4.1.3: the prefixes bind a cookie to https and, with __Host-, to this host and all of its paths.
it.each([
  ["fernhill.elkhorn.example", "", /^__Host-elkhorn_[\w-]+=[^;]+; Path=\/;.*Secure; HttpOnly; SameSite=lax/i],
  ["elkhorn.example", "/p/fernhill", /^__Secure-elkhorn_[\w-]+=[^;]+; Path=\/p\/fernhill;.*Secure; HttpOnly; SameSite=lax/i],
])("under https the session of %s%s is bound to it, and browsers keep to https", async (host, base, wanted) => {
  const client = new Client(secure, host, base);
  const a = await client.call("POST", "/api/v1/session", { body: { email: "dana@saltmarsh.example", password: "dana-reads-every-sign" } });
  expect(String(a.headers["set-cookie"])).toMatch(wanted);
  expect(a.headers["strict-transport-security"]).toMatch(/max-age=\d{7,}/);
  expect((await client.api("/me")).status).toBe(200);
  expect((await fernhill.get("/sign-in")).headers["strict-transport-security"]).toBeUndefined();
});

describe("under a path of the main host", () => {
  it("there is no portal unless the operator says so", async () => {
    for (const path of [
      "/p",
      "/p/fernhill",
      "/p/fernhill/sign-in",
      "/p/fernhill/signs",
      "/p/fernhill/api/v1/me",
      "/p/fernhill/openapi.json",
    ])
      expect([path, (await main.get(path)).status]).toEqual([path, 404]);
    const post = await main.call("POST", "/p/fernhill/api/v1/session", {
      body: { email: "dana@saltmarsh.example", password: "dana-reads-every-sign" },
    });
    expect([post.status, post.headers["set-cookie"]]).toEqual([404, undefined]);
  });
  it("where it is turned on the portal is the same there, and its links stay there", async () => {
    const base = `http://localhost:${onPaths}/p/fernhill`;
    await leave(b);
    await signInAt(b, `${base}/sign-in?to=%2Fsigns`, "dana@saltmarsh.example");
    expect(await b.driver.getCurrentUrl()).toBe(`${base}/signs`);
    await b.press("SA-101");
    await b.until(async () => (await b.driver.getCurrentUrl()).startsWith(`${base}/signs/`));
    await b.seesText("Door plate");
  });
  it("and so does see-as, which its cookie keeps from the rest of the host", async () => {
    await leave(b);
    await signInToOffice(b, onPaths);
    await b.go(`http://localhost:${onPaths}/portals/fernhill/check`);
    await b.press("See as…");
    await b.keys("dialog[open] input[cmdk-input]", "piers wold\n");
    await b.seesText("You see the portal as Piers Wold");
    expect(await b.driver.getCurrentUrl()).toBe(`http://localhost:${onPaths}/p/fernhill`);
    const [seeAs] = (await b.driver.manage().getCookies()).filter((c) => c.name.startsWith("elkhorn_seeas"));
    expect(seeAs).toMatchObject({ path: "/p/fernhill", httpOnly: true, sameSite: "Lax" });
    await b.press("Back to the back office");
    await b.seesText("What one person sees of each table");
  });
});

describe("search engines", () => {
  it("may look at what visitors may read, whoever asks, and at nothing of the back office", async () => {
    const robots = (c: Client): Promise<string> => c.get("/robots.txt").then((a) => a.text);
    expect((await robots(fernhill)).split("\n")).toEqual(["User-agent: *", "Allow: /$", "Allow: /standards", "Disallow: /", ""]);
    expect(await robots(await signedIn(port, "dana@saltmarsh.example"))).not.toMatch(/signs|requests/);
    expect(await robots(main)).toBe("User-agent: *\nDisallow: /\n");
    const page = (await fernhill.get("/standards")).text;
    expect(page).toMatch(/<meta name="description" content="Standards in the portal of Fernhill Wayfinding."/);
  });
  it("addresses without a page are told within the portal's or the office's own frame", async () => {
    for (const path of ["/a/b/c/d", "/nothing"]) {
      const a = await fernhill.get(path);
      expect([path, a.status === 404 || a.status === 307]).toEqual([path, true]);
    }
    await signInToOffice(b, port);
    await b.go(`http://localhost:${port}/portals/fernhill/no/such/page`);
    await b.seesText("There is nothing at this address");
    await b.seesText(/\d+ of \d+ people active/);
    expect(await b.count("//header[.//button[normalize-space()='Sign out']]")).toBe(1); // a landmark, as everything beside it
    await b.press("Sign out"); // the top bar stands beside it
    await signInToOffice(b, port);
    await b.go(`http://localhost:${port}/portals/fernhill/data/t_companies`); // a table by its id
    await b.seesText("Saltmarsh Infirmary Group");
  });
});

it("a number is said as it is written, by the label of a link too", async () => {
  await enter(b, port, "ines@fernhill.example");
  await b.go(`http://fernhill.localhost:${port}/`);
  expect(await b.count('a[aria-label="All 1,239 Signs"]')).toBe(1);
});

describe("tickets to see-as", () => {
  it("a used, strange or missing one opens nothing", async () => {
    for (const ticket of ["", "guess", "%27", "x".repeat(5_000)]) {
      const a = await fernhill.get(`/-/see-as?ticket=${ticket}`);
      expect([a.status, a.headers["set-cookie"], a.headers.location]).toEqual([
        303,
        undefined,
        `http://localhost:${port}/portals/fernhill/check`,
      ]);
    }
    expect((await main.get("/-/see-as?ticket=x")).status).toBe(404);
  });
});
