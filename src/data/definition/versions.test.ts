import { beforeEach, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import type { PortalFile } from "../file/open";
import { emptyDefinition } from "../installation/portals";
import { publish, uphold } from "../publishing/publish";
import { changeDraft, discardDraft, draftOf } from "./draft";
import { published, storePublished } from "./published";
import { bringBack, draftMoves, moveDraft, versions } from "./versions";

const owner = testViewer({ kind: "owner", company: null }) as Owner;
let file: PortalFile;

beforeEach(() => {
  file = memoryPortal();
  makeTestSchema(file);
  storePublished(file, emptyDefinition("Test"), PUBLISHER);
});

const checked = () => uphold(draftOf(file, owner), new Set())!;
const now = (): number => draftOf(file, owner).revision;
const motto = (words: string) => (d: Definition) => ({ ...d, brand: { ...d.brand, motto: words } });
const say = (words: string): void => {
  const done = changeDraft(file, owner, now(), motto(words), `motto ${words}`);
  if (!done.ok) throw new Error(JSON.stringify(done.error));
};
const go = (by: -1 | 1) => moveDraft(file, owner, now(), by);
const said = (): string => draftOf(file, owner).definition.brand.motto;

it("a draft is undone and redone step by step, and a new change cuts off what was undone", () => {
  const before = said();
  say("one");
  say("two");
  expect(draftMoves(file, owner)).toEqual({ undo: "motto two", redo: null });
  expect(go(-1).ok).toBe(true);
  expect(said()).toBe("one");
  expect(draftMoves(file, owner)).toEqual({ undo: "motto one", redo: "motto two" });
  expect(go(-1).ok).toBe(true);
  expect(said()).toBe(before);
  expect(draftOf(file, owner).changed).toBe(false);
  expect(go(-1)).toEqual({ ok: false, error: { code: "invalid", messages: ["There is nothing to undo."] } });
  expect(go(1).ok).toBe(true);
  say("three");
  expect(draftMoves(file, owner)).toEqual({ undo: "motto three", redo: null });
  expect(go(1)).toEqual({ ok: false, error: { code: "invalid", messages: ["There is nothing to redo."] } });
});

it("undoing on a draft that somebody changed meanwhile is told, not done", () => {
  say("one");
  const seen = now();
  say("two");
  expect(moveDraft(file, owner, seen, -1)).toEqual({ ok: false, error: { code: "stale" } });
  expect(said()).toBe("two");
});

it("publishing and throwing away end the steps", () => {
  say("one");
  publish(file, owner, checked(), "the first words");
  expect(draftMoves(file, owner)).toEqual({ undo: null, redo: null });
  say("two");
  discardDraft(file, owner);
  expect(draftMoves(file, owner)).toEqual({ undo: null, redo: null });
});

it("steps beyond two hundred are let go, the rest still undo", () => {
  for (let i = 0; i < 205; i++) say(String(i));
  for (let i = 0; i < 200; i++) expect(go(-1).ok).toBe(true);
  expect(said()).toBe("4");
  expect(draftMoves(file, owner).undo).toBeNull();
});

it("versions tell who, when and why; an earlier one comes back as a draft that holds for nobody yet", () => {
  say("one");
  publish(file, owner, checked(), "the first words");
  say("two");
  publish(file, owner, checked(), "better words");
  expect(versions(file, owner).map((v) => [v.version, v.note, v.by])).toEqual([
    [3, "better words", "Dana"],
    [2, "the first words", "Dana"],
    [1, "", "test"],
  ]);
  expect(bringBack(file, owner, now(), 2).ok).toBe(true);
  expect(said()).toBe("one");
  expect(published(file).definition.brand.motto).toBe("two");
  expect(draftMoves(file, owner).undo).toBe("going back to version 2");
  expect(bringBack(file, owner, now(), 9)).toEqual({ ok: false, error: { code: "invalid", messages: ["There is no version 9."] } });
});
