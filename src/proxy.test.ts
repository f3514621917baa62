import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { NextRequest } from "next/server";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { portalIdAt } from "@/data/file/open";
import { addDomain, dropDomain, keepMain, keepShown } from "@/data/installation/domains";
import { createPortal } from "@/data/installation/portals";
import { PUBLISHER } from "@/testing/world";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-proxy-"));
let config: typeof import("./proxy")["config"];
let proxy: typeof import("./proxy")["proxy"];
let onPaths: typeof proxy;

beforeAll(async () => {
  vi.stubEnv("ELKHORN_DATA", folder);
  for (const slug of ["fernhill", "other"]) createPortal(slug, slug, PUBLISHER);
  ({ config, proxy } = await import("./proxy"));
  vi.resetModules();
  vi.stubEnv("ELKHORN_PORTAL_PATHS", "on");
  onPaths = (await import("./proxy")).proxy;
});
afterAll(() => {
  vi.unstubAllEnvs();
  rmSync(folder, { recursive: true, force: true });
});

function through(url: string, headers: Record<string, string> = {}, by = proxy) {
  const host = new URL(url).host;
  const answer = by(new NextRequest(url, { headers: { host, ...headers } }));
  const inner = (name: string): string | null => answer.headers.get(`x-middleware-request-x-elkhorn-${name}`);
  const rewritten = answer.headers.get("x-middleware-rewrite");
  return {
    to: rewritten ? new URL(rewritten).pathname : null,
    portal: inner("portal"),
    base: inner("base"),
    path: inner("path"),
    key: inner("key"),
    host: inner("host"),
  };
}

describe("domains of the agency's", () => {
  const owner = { kind: "owner", now: 0 } as unknown as Owner;
  const where = (url: string, method = "GET", headers = {}) => {
    const host = new URL(url).host;
    const answer = proxy(new NextRequest(url, { method, headers: { host, ...headers } }));
    return [answer.status, answer.headers.get("location") ?? answer.headers.get("x-middleware-request-x-elkhorn-portal")];
  };
  it("answers at the main one, leads there from the others, and at none that was not shown", () => {
    const id = portalIdAt("fernhill")!;
    for (const host of ["a.example", "b.example", "c.example"]) addDomain(id, owner, host, "t", 1);
    expect(where("http://a.example:3000/")[0]).toBe(421);
    for (const host of ["a.example", "b.example"]) keepShown(id, owner, host, "record", 2);
    expect(where("http://c.example:3000/")[0]).toBe(421);
    expect(where("http://b.example:3000/signs?q=a")).toEqual([307, "http://fernhill.localhost:3000/signs?q=a"]);
    keepMain(id, owner, "a.example");
    expect(where("http://a.example:3000/signs")).toEqual([200, "fernhill"]);
    expect(where("http://A.example:3000/p/other/signs")).toEqual([200, "fernhill"]);
    expect(where("http://b.example:3000/signs?q=a")).toEqual([307, "http://a.example:3000/signs?q=a"]);
    expect(where("http://fernhill.localhost:3000/signs")).toEqual([307, "http://a.example:3000/signs"]);
    expect(where("http://fernhill.localhost:3000//evil.example/x")).toEqual([307, "http://a.example:3000//evil.example/x"]);
    // What is sent stays where its form was; programs keep their address.
    expect(where("http://fernhill.localhost:3000/signs", "POST")).toEqual([200, "fernhill"]);
    expect(where("http://b.example:3000/api/v1/me")).toEqual([200, "fernhill"]);
    expect(where("http://other.localhost:3000/")).toEqual([200, "other"]);
    expect(where("http://a.example.localhost:3000/")[0]).toBe(421);
    dropDomain(id, owner, "a.example");
    dropDomain(id, owner, "b.example");
    expect(where("http://a.example:3000/")[0]).toBe(421);
  });
});

describe("hosts and paths", () => {
  it.each([
    ["http://fernhill.localhost:3000/", "/p/fernhill", "fernhill", "", "/"],
    ["http://fernhill.localhost:3000/signs?q=a", "/p/fernhill/signs", "fernhill", "", "/signs?q=a"],
    ["http://FERNHILL.localhost:3000/signs", "/p/fernhill/signs", "fernhill", "", "/signs"],
    // Another portal's path on a portal's own host is a path of that portal, which has none such.
    ["http://fernhill.localhost:3000/p/other/signs", "/p/fernhill/p/other/signs", "fernhill", "", "/p/other/signs"],
    ["http://fernhill.localhost:3000/api/v1/me", "/p/fernhill/api/v1/me", "fernhill", "", "/api/v1/me"],
    ["http://localhost:3000/portals/fernhill", null, null, null, "/portals/fernhill"],
  ])("%s", (url, to, portal, base, path) => expect(through(url)).toMatchObject({ to, portal, base, path }));

  it.each([
    ["http://localhost:3000/p/fernhill", "fernhill", "/p/fernhill", "/"],
    ["http://localhost:3000/p/fernhill/signs?q=a", "fernhill", "/p/fernhill", "/signs?q=a"],
    ["http://localhost:3000/portals/fernhill", null, null, "/portals/fernhill"],
  ])("%s, where portals stand under paths too", (url, portal, base, path) => {
    expect(through(url, {}, onPaths)).toMatchObject({ to: null, portal, base, path });
    expect(through("http://fernhill.localhost:3000/signs", {}, onPaths)).toMatchObject({ to: "/p/fernhill/signs", base: "" });
  });
  it.each(["/p", "/p/", "/p/fernhill", "/p/fernhill/signs", "/p/FERNHILL", "/p/fernhill/api/v1/me"])(
    "%s is nothing where they do not",
    (path) => {
      const url = `http://localhost:3000${path}`;
      expect(proxy(new NextRequest(url, { headers: { host: "localhost:3000" } })).status).toBe(404);
    },
  );

  it("each page has a nonce of its own, told to Next and to the browser alike", () => {
    const [one, two] = [1, 2].map(() =>
      proxy(new NextRequest("http://fernhill.localhost:3000/", { headers: { host: "fernhill.localhost:3000" } })),
    );
    const policy = one!.headers.get("content-security-policy")!;
    expect(policy).toMatch(/script-src 'self' 'nonce-[0-9a-f]{32}';/);
    expect(policy).toContain("frame-ancestors 'none'");
    expect(one!.headers.get("x-middleware-request-content-security-policy")).toBe(policy);
    expect(two!.headers.get("content-security-policy")).not.toBe(policy);
  });

  it.each([
    ["http://notlocalhost:3000/signs", 421],
    ["http://localhost.evil.example/", 421],
    ["http://127.0.0.1:3000/", 421],
    ["http://nobody.localhost:3000/", 421],
    ["http://a.b.localhost:3000/", 421],
    ["http://fernhill.localhost:3000/", 200],
    ["http://evil.example/-/health", 200],
    ["http://evil.example/-/ready", 200],
    ["http://evil.example/-/setup", 421],
  ])("%s answers %i", (url, status) => expect(proxy(new NextRequest(url, { headers: { host: new URL(url).host } })).status).toBe(status));

  it.each([
    "",
    ".localhost",
    "..localhost",
    "localhost.",
    "fernhill.localhost.",
    "fernhill..localhost",
    "-.localhost",
    "fernhill/.localhost",
    "%66ernhill.localhost",
    "fernhill@localhost",
    "[::1]",
    " ",
  ])("nobody answers to the name %j", (host) =>
    expect(proxy(new NextRequest("http://localhost:3000/", { headers: { host } })).status).toBe(421),
  );

  it("a forged name of ours does not help another host", () => {
    const headers = { host: "evil.example", "x-elkhorn-host": "localhost:3000", "x-elkhorn-key": "guess" };
    expect(proxy(new NextRequest("http://evil.example/", { headers })).status).toBe(421);
  });

  it("headers that a client forges are dropped, the key's included", () => {
    const forged = {
      "x-elkhorn-portal": "other",
      "x-elkhorn-base": "/evil",
      "x-elkhorn-key": "guess",
      "x-elkhorn-host": "other.localhost:3000",
    };
    expect(through("http://localhost:3000/portals", forged)).toMatchObject({ to: null, portal: null, base: null, host: "localhost:3000" });
    expect(through("http://fernhill.localhost:3000/", forged)).toMatchObject({ to: "/p/fernhill", portal: "fernhill", base: "" });
  });

  it("a request of our own, with this process's key, is believed about its host", () => {
    const { key } = through("http://fernhill.localhost:3000/");
    const again = through("http://localhost:3000/sign-in", { "x-elkhorn-key": key!, "x-elkhorn-host": "fernhill.localhost:3000" });
    expect(again).toMatchObject({ to: "/p/fernhill/sign-in", portal: "fernhill" });
  });

  it("nothing but Next's own static files passes by", () => {
    const pattern = new RegExp(`^${config.matcher}$`);
    for (const path of ["/", "/logo.png", "/p/x/y.css", "/api/v1/me", "/_next/data/x.json", "/favicon.ico"])
      expect([path, pattern.test(path)]).toEqual([path, true]);
    expect(pattern.test("/_next/static/chunks/a.js")).toBe(false);
    // An import's file, whose route looks at the host itself; and just that.
    expect(pattern.test("/portals/fernhill/data/import/upload")).toBe(false);
    for (const path of [
      "/portals/a/b/data/import/upload",
      "/portals/fernhill/data/import/upload/x",
      "/x/portals/fernhill/data/import/upload",
    ])
      expect([path, pattern.test(path)]).toEqual([path, true]);
  });
});
