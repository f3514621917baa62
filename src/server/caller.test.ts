/** Where a request comes from: what it says of itself counts only through a proxy that was named. */
import { expect, it } from "vitest";
import { caller, placeOf } from "../../scripts/caller.mjs";

const asked = (remoteAddress: string, forwarded?: string) =>
  ({ socket: { remoteAddress }, connection: { remoteAddress }, headers: forwarded ? { "x-forwarded-for": forwarded } : {} }) as never;

it.each([
  [undefined, "203.0.113.5", undefined, "203.0.113.5"],
  // Not named: whose word it is, is not known, and everybody may stand behind it.
  [undefined, "127.0.0.1", "198.51.100.1", "unclear"],
  ["10.0.0.0/8", "203.0.113.5", "198.51.100.1", "unclear"],
  ["10.0.0.0/8", "10.1.2.3", "198.51.100.1", "198.51.100.1"],
  // Only what the nearest proxy wrote down: what stands before that, the client may have made up.
  ["10.0.0.0/8", "10.1.2.3", "1.2.3.4, 198.51.100.1", "198.51.100.1"],
  ["10.0.0.0/8, 192.0.2.7", "10.1.2.3", "198.51.100.1, 192.0.2.7", "198.51.100.1"],
  ["10.0.0.0/8", "10.1.2.3", "nonsense", "unknown"],
  [undefined, "::ffff:203.0.113.5", undefined, "203.0.113.5"],
  [undefined, "2001:db8:1:2:aaaa::1", undefined, "2001:db8:1:2::/64"],
])("with %s before it, %s that says %s is %s", (proxies, remote, said, is) => {
  expect(caller(proxies)(asked(remote, said))).toBe(is);
});

it("what is no address is one place, too", () => expect(placeOf("")).toBe("unknown"));
