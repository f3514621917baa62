/** Calls that are retired say so as RFC 9745 and RFC 8594 have it. */
import { expect, it } from "vitest";
import { type Outdated, outdatedCall, outdatedHeaders, withOutdated } from "./outdated";

const OLD: Outdated = {
  method: "GET",
  path: "/tables/{table}/old",
  since: "2023-06-30T23:59:59Z",
  until: "2024-06-30T23:59:59Z",
  instead: "/tables/signs/new",
};

it("a call is known by its method and its address, whatever stands in the place of a name", () => {
  const known = (method: string, path: string) => outdatedCall(method, path, [OLD]) === OLD;
  expect([known("GET", "/tables/signs/old"), known("POST", "/tables/signs/old"), known("GET", "/tables/signs/old/more")]).toEqual([
    true,
    false,
    false,
  ]);
  expect(outdatedCall("GET", "/tables")).toBeUndefined();
});

it("its answers say since when, until when, and what to use instead", () => {
  // The example of RFC 9745 section 2.1, and a date in the form of RFC 9110 section 5.6.7 as RFC 8594 section 3 has it.
  expect(outdatedHeaders(OLD, "https://portal.example")).toEqual({
    deprecation: "@1688169599",
    sunset: "Sun, 30 Jun 2024 23:59:59 GMT",
    link: '<https://portal.example/-/reference>; rel="deprecation"; type="text/html", <https://portal.example/api/v1/tables/signs/new>; rel="successor-version"',
  });
  expect(outdatedHeaders({ ...OLD, until: null, instead: null }, "")).not.toHaveProperty("sunset");
});

it("the document marks it, and nothing else", () => {
  const doc = { paths: { "/tables/signs/old": { get: { summary: "Old" }, post: {} }, "/tables": { get: {} } } };
  expect(withOutdated(doc, [OLD]).paths).toEqual({
    "/tables/signs/old": { get: { summary: "Old", deprecated: true }, post: {} },
    "/tables": { get: {} },
  });
});
