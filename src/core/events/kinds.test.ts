/** Kinds of event, and the words that the back office has for what is recorded. */
import { expect, it } from "vitest";
import { EVENT_KINDS, type EventKind, eventWords, isEventKind, ownActOf } from "./kinds";

const noActs = () => undefined;

it("each kind has words of its own, by which it is found in the log", () => {
  const words = Object.values(EVENT_KINDS).map((k) => k.says);
  expect(words.filter((w, i) => words.indexOf(w) !== i)).toEqual([]);
  for (const kind of Object.keys(EVENT_KINDS) as EventKind[]) expect(eventWords(kind, noActs)).toBe(EVENT_KINDS[kind].says);
});

it("the agency's own acts are called by their names of now, and by none of Elkhorn's", () => {
  expect(eventWords("act:approve", (id) => ({ approve: "Approve" })[id])).toBe("did “Approve” on");
  expect(eventWords("act:approve", noActs)).toBe("did “an act that is gone” on");
  // An act that is called as a kind is no kind.
  expect([ownActOf("act:published"), ownActOf("published"), isEventKind("act:published")]).toEqual(["published", null, false]);
});

it("what an older version recorded otherwise is said as it stands; names of an object's own parts are no kinds", () => {
  expect(eventWords("tidied up", noActs)).toBe("tidied up");
  for (const name of ["constructor", "toString", "__proto__"]) expect([isEventKind(name), eventWords(name, noActs)]).toEqual([false, name]);
});
