import { expect, test } from "vitest";
import { readDomain } from "./domain";

const read = (s: string) => readDomain(s, "portals.elkhorn.example");

test("a host is read from a name or an address, in the form that browsers send", () => {
  expect(read(" https://Clients.Fernhill.Example/ ")).toEqual({ ok: true, value: "clients.fernhill.example" });
  expect(read("clients.fernhill.example.")).toEqual({ ok: true, value: "clients.fernhill.example" });
  // RFC 3492 section 7 gives no such short word; this pair is the one that RFC 5891's registries use throughout, from memory.
  expect(read("bücher.example")).toEqual({ ok: true, value: "xn--bcher-kva.example" });
});

test.each([
  ["", "Write the name"],
  ["clients.fernhill.example/portal", "without a path"],
  ["clients.fernhill.example:8080", "without a port"],
  ["rosalind@fernhill.example", "without a path"],
  ["10.0.0.1", "in numbers"],
  ["0x7f000001", "in numbers"],
  ["[::1]", "in numbers"],
  ["localhost", "leads nowhere"],
  ["printer.local", "leads nowhere"],
  ["fernhill", "leads nowhere"],
  ["under_score.example", "no name"],
  ["-a.example", "no name"],
  [`${"a".repeat(64)}.example`, "no name"],
  [`${"abcdefgh.".repeat(29)}example`, "no name"],
  ["a b.example", "no name"],
  ["portals.elkhorn.example", "installation's own"],
  ["other.portals.elkhorn.example", "installation's own"],
])("%s is refused", (written, said) => {
  expect(read(written)).toMatchObject({ ok: false, error: expect.stringContaining(said) });
});
