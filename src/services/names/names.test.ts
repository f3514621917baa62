import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { isNear } from "../outside/near";
import { keepEntries, standInNames } from "./stand-in";

test("the stand-in answers what was set", async () => {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-names-"));
  const names = standInNames(folder);
  expect(await names.texts("_elkhorn.a.example")).toEqual([]);
  keepEntries(folder, [
    { kind: "text", name: "_Elkhorn.a.example", says: "one" },
    { kind: "file", name: "a.example/.well-known/x.txt", says: "two" },
  ]);
  expect(await names.texts("_elkhorn.a.example")).toEqual(["one"]);
  expect(await names.file("a.example", "/.well-known/x.txt")).toBe("two");
  expect(await names.file("b.example", "/.well-known/x.txt")).toBeNull();
  rmSync(folder, { recursive: true });
});

// RFC 6890's tables of special-purpose addresses, a few of each; 192.0.2.1 and 2001:db8::1 stand for the world outside (RFC 5737, RFC 3849).
test.each([
  ["127.0.0.1", true],
  ["10.1.2.3", true],
  ["172.31.255.255", true],
  ["172.32.0.0", false],
  ["169.254.169.254", true],
  ["192.168.1.1", true],
  ["100.64.0.1", true],
  ["192.0.2.1", false],
  ["0.0.0.0", true],
  ["255.255.255.255", true],
  ["::1", true],
  ["::ffff:127.0.0.1", true],
  ["::ffff:7f00:1", true],
  ["2002:7f00:1::", true],
  ["2002:c000:201::", false],
  ["64:ff9b::a00:1", true],
  ["[fe80::1%25eth0]", true],
  ["no address", true],
  ["fd00::1", true],
  ["fe80::1", true],
  ["2001:db8::1", false],
])("%s is near: %s", (address, near) => {
  expect(isNear(address)).toBe(near);
});
