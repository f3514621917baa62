import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs } from "@/testing/random";
import { addressFrom, addressTemplate, percentEncoded, templateFromText, templateToText } from "./template";

const fieldOf = (name: string): string | undefined => ({ "Map reference": "f_1", Code: "f_2" })[name];

describe("addresses made from fields", () => {
  it("encodes as RFC 3986 section 2.1 writes it: all but the unreserved of section 2.3", () => {
    expect(percentEncoded("AZaz09-._~")).toBe("AZaz09-._~");
    expect(percentEncoded(":/?#[]@!$&'()*+,;=")).toBe("%3A%2F%3F%23%5B%5D%40%21%24%26%27%28%29%2A%2B%2C%3B%3D");
    expect(percentEncoded("é 百")).toBe("%C3%A9%20%E7%99%BE");
  });
  it("takes https and a whole host, and nothing by which a record could choose another", () => {
    const takes = (text: string): boolean => addressTemplate.safeParse(templateFromText(text, fieldOf)).success;
    expect(takes("https://maps.example/?q={Map reference}")).toBe(true);
    expect(takes("https://maps.example")).toBe(true);
    for (const bad of [
      "javascript:alert(1)",
      "http://maps.example/",
      "{Code}",
      "https://{Code}/",
      "https://maps.example{Code}",
      "https://maps{Code}.example/",
      "data:text/html,x",
      "https://",
      "",
    ])
      expect([bad, takes(bad)]).toEqual([bad, false]);
    expect(templateFromText("https://x.example/{Nothing}", fieldOf)).toBeNull();
  });
  it("goes back to what was written", () => {
    const written = "https://maps.example/{Code}/?q={Map reference}&z=3";
    expect(templateToText(templateFromText(written, fieldOf)!, (id) => (id === "f_1" ? "Map reference" : "Code"))).toBe(written);
  });
  it("leads to its host whatever a record holds", () => {
    const template = addressTemplate.parse(["https://maps.example/at/", { field: "f_1" }, "?q=", { field: "f_2" }]);
    fc.assert(
      fc.property(fc.string({ unit: "grapheme" }), fc.string({ unit: "binary" }), (a, b) => {
        const url = new URL(addressFrom(template, (f) => (f === "f_1" ? a : b))!);
        expect([url.origin, url.username, url.searchParams.get("q")]).toEqual(["https://maps.example", "", b.toWellFormed()]);
        // A value of dots alone is a step in a path (RFC 3986 section 5.2.4), and still stays on the host.
        if (!/^\.{1,2}$/.test(a)) expect(decodeURIComponent(url.pathname)).toBe(`/at/${a.toWellFormed()}`);
      }),
      { numRuns: runs(500) },
    );
  });
});
