import { createServer, type Server } from "node:http";
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import { guardedFetch, leadsInside } from "./guarded";

const lookup = vi.hoisted(() => vi.fn());
vi.mock("node:dns", async (original) => {
  const real = await original<typeof import("node:dns")>();
  return { ...real, promises: { ...real.promises, lookup: (host: string, o: object) => lookup(host, o) } };
});

let server: Server;
let port = 0;
const asked: string[] = [];
beforeAll(async () => {
  server = createServer((request, response) => {
    asked.push(`${request.method} ${request.url}`);
    if (request.url === "/large") response.end(Buffer.alloc(2 * 1024 * 1024));
    else if (request.url === "/elsewhere") response.writeHead(302, { location: "/inside" }).end();
    else request.pipe(response);
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  port = (server.address() as { port: number }).port;
});
afterAll(() => void server.close());
afterEach(() => {
  delete process.env.ELKHORN_INSIDE;
  asked.length = 0;
  lookup.mockReset();
});

describe("an address that somebody typed", () => {
  it("reaches nothing inside by its number, in whatever way it is written", async () => {
    for (const host of [
      "127.0.0.1",
      "2130706433",
      "0x7f.1",
      "[::1]",
      "[::ffff:127.0.0.1]",
      "10.0.0.7",
      "169.254.169.254",
      "0.0.0.0",
      "localhost",
      "x.localhost",
    ])
      expect([
        host,
        await guardedFetch(`http://${host}:${port}/`).then(
          () => "reached",
          (e: Error) => e.name,
        ),
      ]).toEqual([host, "LeadsInside"]);
    expect(asked).toEqual([]);
  });
  it("nor by a name that leads there, at the first look or the second; nor is a redirect followed", async () => {
    lookup.mockResolvedValue([{ address: "127.0.0.1", family: 4 }]);
    await expect(guardedFetch(`http://inside.example:${port}/`)).rejects.toThrow("leads to no address outside");
    expect(await leadsInside(`http://inside.example:${port}/`)).toBe(true);
    // Outside when it was registered, inside when it is connected to.
    lookup.mockResolvedValueOnce([{ address: "192.0.2.1", family: 4 }]);
    expect(await leadsInside(`http://turns.example:${port}/`)).toBe(false);
    await expect(guardedFetch(`http://turns.example:${port}/`)).rejects.toThrow("leads to no address outside");
    expect(asked).toEqual([]);
    process.env.ELKHORN_INSIDE = `localhost:${port}`;
    expect((await guardedFetch(`http://localhost:${port}/elsewhere`)).status).toBe(302);
    expect(asked).toEqual(["GET /elsewhere"]);
  });
  it("reaches what the operator listed, and that alone", async () => {
    process.env.ELKHORN_INSIDE = `localhost:${port}`;
    expect([await leadsInside(`http://localhost:${port}/`), await leadsInside("http://localhost:1/")]).toEqual([false, true]);
    const answer = await guardedFetch(`http://localhost:${port}/echo`, { method: "POST", body: new URLSearchParams({ a: "1" }) });
    expect([answer.status, await answer.text()]).toEqual([200, "a=1"]);
    await expect(guardedFetch(`http://localhost:${port}/large`)).rejects.toThrow("answers more than");
    const cut = await guardedFetch(`http://localhost:${port}/large`, {}, { bytes: 1_000, cut: true });
    expect([cut.status, (await cut.arrayBuffer()).byteLength]).toEqual([200, 1_000]);
    await expect(guardedFetch(`http://127.0.0.1:${port}/`)).rejects.toThrow("leads to no address outside");
    expect(await leadsInside("no address")).toBe(true);
  });
});
