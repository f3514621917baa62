import { describe, expect, test } from "vitest";
import { z } from "zod";
import { RefusedWrite } from "./refused-write";
import { jsonOf, readOne, readOrRefuse, readSent, whole, word, words, yes } from "./takes";

describe("what an action takes", () => {
  test("is read in order; what is sent beyond it is left", () => {
    expect(readSent([word, whole, yes], ["p-1", 3, true, "more"])).toEqual({ ok: true, value: ["p-1", 3, true] });
  });

  test("is refused with each sentence once, a schema's own before the general one", () => {
    const name = z.string().min(1, "Give the page a name.");
    expect(readSent([name, whole], ["", "x"])).toEqual({
      ok: false,
      messages: ["Give the page a name.", "This could not be read. Load the page again."],
    });
    expect(readSent([whole, yes], [1.5, "yes"])).toEqual({ ok: false, messages: ["This could not be read. Load the page again."] });
    expect(readSent([word], [])).toMatchObject({ ok: false });
  });

  test("says how long a text and a list may be", () => {
    expect(readOne(word, "x".repeat(301))).toEqual({ ok: false, messages: ["Use at most 300 characters."] });
    expect(readOne(z.array(word).max(2), ["a", "b", "c"])).toEqual({ ok: false, messages: ["Choose at most 2."] });
    expect(readOne(words, ["a"])).toEqual({ ok: true, value: ["a"] });
  });

  test("shows five sentences at the most", () => {
    const many = z.object(Object.fromEntries(["a", "b", "c", "d", "e", "f", "g"].map((k) => [k, z.string(`${k} is missing.`)])));
    expect(readOne(many, {})).toMatchObject({ ok: false, messages: { length: 5 } });
  });

  test("can be JSON that a page held; what is none, or something else, is refused", () => {
    const kept = jsonOf(z.object({ id: word }));
    expect(readOne(kept, '{"id":"x"}')).toEqual({ ok: true, value: { id: "x" } });
    for (const bad of ["{", "", "null", '{"id":1}', 7]) expect(readOne(kept, bad), String(bad)).toMatchObject({ ok: false });
  });

  test("is refused as a request where there is no place for a sentence", () => {
    expect(readOrRefuse([word], ["x"])).toEqual(["x"]);
    expect(() => readOrRefuse([word], [{}])).toThrow(RefusedWrite);
  });
});
