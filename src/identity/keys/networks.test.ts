import { BlockList } from "node:net";
import fc from "fast-check";
import { expect, it } from "vitest";
import { runs, seed } from "@/testing/random";
import { comesFrom, readNetworks } from "./networks";

it("reads addresses and networks, each once, and says which is none", () => {
  expect(readNetworks("192.0.2.7\n 192.0.2.0/24, 192.0.2.7\n2001:db8::/48")).toEqual({
    ok: true,
    value: ["192.0.2.7/32", "192.0.2.0/24", "2001:db8::/48"],
  });
  expect(readNetworks("  ")).toEqual({ ok: true, value: [] });
  for (const wrong of ["192.0.2", "0x7f.1", "3232235777", "192.0.2.7/33", "192.0.2.7/-1", "192.0.2.7/8/8", "2001:db8::1/128", "here", "/8"])
    expect([wrong, readNetworks(wrong).ok]).toEqual([wrong, false]);
});

it("tells who is inside as Node's own list of networks does", () => {
  const byte = fc.integer({ min: 0, max: 255 });
  // Few different bytes, so that callers lie inside often enough.
  const near = fc.constantFrom(0, 1, 128, 255);
  fc.assert(
    fc.property(fc.tuple(near, near, near, byte), fc.integer({ min: 0, max: 32 }), fc.tuple(near, near, near, byte), (net, bits, from) => {
      const list = new BlockList();
      list.addSubnet(net.join("."), bits, "ipv4");
      expect(comesFrom([`${net.join(".")}/${bits}`], from.join("."))).toBe(list.check(from.join("."), "ipv4"));
    }),
    { numRuns: runs(1_000), seed },
  );
});
