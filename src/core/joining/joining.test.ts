import { describe, expect, it } from "vitest";
import { CLOSED, joinEmail, joiningShape, mayJoin, plainName } from "./joining";

describe("addresses", () => {
  it("are ASCII, in small letters, of a whole domain", () =>
    expect(["Dana@Client.Example ", "d.o'n+a@x.example", "dana@localhost", "dana@xn--e1afmkfd.example"].map(joinEmail)).toEqual([
      "dana@client.example",
      "d.o'n+a@x.example",
      null,
      "dana@xn--e1afmkfd.example",
    ]));
  // Cyrillic "а" (U+0430), a full-width letter, a combining accent, a dotless i: each looks like what it is not (Unicode TS 39).
  it.each(["dаna@client.example", "dana@clіent.example", "ｄana@client.example", "dána@client.example", "dana@clıent.example"])(
    "no look-alike: %s",
    (e) => expect(joinEmail(e)).toBeNull(),
  );
  it.each([
    "",
    "a",
    "@x.example",
    "a@b@c.example",
    "a b@x.example",
    "a@x.example\r\nBcc: b@x.example",
    "a@-x.example",
    `${"a".repeat(65)}@x.example`,
    "<a@x.example>",
  ])("none: %j", (e) => expect(joinEmail(e)).toBeNull());
});

describe("who may", () => {
  const domains = { ...CLOSED, who: "domains" as const, domains: ["client.example"] };
  it("a domain below, or one that ends alike, is another", () =>
    expect(
      ["a@client.example", "a@sub.client.example", "a@notclient.example", "a@client.example.evil.example"].map((e) => mayJoin(domains, e)),
    ).toEqual([true, false, false, false]));
  it("nobody, and only who is known, is nobody new", () => {
    expect(mayJoin(CLOSED, "a@client.example")).toBe(false);
    expect(mayJoin({ ...domains, who: "known" }, "a@client.example")).toBe(false);
    expect(mayJoin({ ...domains, who: "anybody" }, "a@elsewhere.example")).toBe(true);
  });
  it("domains are written as such", () => {
    for (const bad of ["@client.example", "client", "Client.example", "clіent.example", "*.example"])
      expect(joiningShape.safeParse({ ...domains, domains: [bad] }).success).toBe(false);
  });
});

describe("names", () => {
  it("are people's", () =>
    expect(["Dana  Achterberg ", "J. R. Ålund", "Zoë O'Brien-Sz", "李 小龙", "Dr. St. John"].map(plainName)).toEqual([
      "Dana Achterberg",
      "J. R. Ålund",
      "Zoë O'Brien-Sz",
      "李 小龙",
      "Dr. St. John",
    ]));
  it.each([
    "",
    "http://evil.example",
    "evil.example",
    "www.evil",
    "a@evil.example",
    "//evil",
    "<b>",
    "x".repeat(121),
    "Click evil.example now",
  ])("carry no address: %j", (n) => expect(plainName(n)).toBeNull());
});
