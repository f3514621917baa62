import { NextRequest } from "next/server";
import { describe, expect, it } from "vitest";
import { config, proxy } from "./proxy";

function through(url: string, headers: Record<string, string> = {}) {
  const host = new URL(url).host;
  const answer = proxy(new NextRequest(url, { headers: { host, ...headers } }));
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

describe("hosts and paths", () => {
  it.each([
    ["http://fernhill.localhost:3000/", "/p/fernhill", "fernhill", "", "/"],
    ["http://fernhill.localhost:3000/signs?q=a", "/p/fernhill/signs", "fernhill", "", "/signs?q=a"],
    ["http://FERNHILL.localhost:3000/signs", "/p/fernhill/signs", "fernhill", "", "/signs"],
    // Another portal's path on a portal's own host is a path of that portal, which has none such.
    ["http://fernhill.localhost:3000/p/other/signs", "/p/fernhill/p/other/signs", "fernhill", "", "/p/other/signs"],
    ["http://fernhill.localhost:3000/api/v1/me", "/p/fernhill/api/v1/me", "fernhill", "", "/api/v1/me"],
    ["http://a.b.localhost:3000/", "/p/a.b", "a.b", "", "/"],
    ["http://localhost:3000/p/fernhill", null, "fernhill", "/p/fernhill", "/"],
    ["http://localhost:3000/p/fernhill/signs?q=a", null, "fernhill", "/p/fernhill", "/signs?q=a"],
    ["http://localhost:3000/portals/fernhill", null, null, null, "/portals/fernhill"],
  ])("%s", (url, to, portal, base, path) => expect(through(url)).toMatchObject({ to, portal, base, path }));

  it.each([
    ["http://notlocalhost:3000/signs", 421],
    ["http://localhost.evil.example/", 421],
    ["http://127.0.0.1:3000/", 421],
    ["http://fernhill.localhost:3000/", 200],
    ["http://evil.example/-/health", 200],
    ["http://evil.example/-/ready", 200],
    ["http://evil.example/-/setup", 421],
  ])("%s answers %i", (url, status) => expect(proxy(new NextRequest(url, { headers: { host: new URL(url).host } })).status).toBe(status));

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
  });
});
