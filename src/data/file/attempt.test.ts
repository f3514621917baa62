/** Whole or not at all, refused from within, or only tried. */
import { expect, it } from "vitest";
import { err, ok } from "@/core/result";
import { testPortal } from "@/testing/portal";
import { attempt, orRefuse, refuse } from "./attempt";

const begin = () => {
  const { file } = testPortal({ grants: [] });
  const add = (key: string): void => void file.db.prepare("INSERT INTO sys_settings VALUES (?, '{}')").run(key);
  const adding = <T>(key: string, then: () => T): T => {
    add(key);
    return then();
  };
  const there = (): unknown[] => file.db.prepare("SELECT key FROM sys_settings WHERE key LIKE 'x%' ORDER BY key").pluck().all();
  return { file, add, adding, there };
};

it("stays where nothing refuses it", () => {
  const { file, adding, there } = begin();
  expect(attempt(file, () => adding("x1", () => 7))).toEqual({ ok: true, value: 7 });
  expect(there()).toEqual(["x1"]);
});

it("refused from deep within, nothing of it stays, and the reason is answered", () => {
  const { file, adding, there } = begin();
  const deep = (): never => refuse({ code: "gone" });
  expect(attempt<number, { code: string }>(file, () => adding("x1", () => deep()))).toEqual({ ok: false, error: { code: "gone" } });
  expect(attempt(file, () => adding("x2", () => orRefuse(err("no room"))))).toEqual({ ok: false, error: "no room" });
  expect(attempt(file, () => orRefuse(ok(3)))).toEqual({ ok: true, value: 3 });
  expect(there()).toEqual([]);
});

it("only tried, it says what it would come to, and is undone; a refusal is told then, too", () => {
  const { file, adding, there } = begin();
  expect(attempt(file, () => adding("x1", () => there().length), { really: false })).toEqual({ ok: true, value: 1 });
  expect(attempt(file, () => adding("x2", () => refuse("not so")), { really: false })).toEqual({ ok: false, error: "not so" });
  expect(there()).toEqual([]);
});

it("within another it is undone alone, and the other goes on", () => {
  const { file, add, adding, there } = begin();
  const outer = attempt(file, () => {
    add("x1");
    const inner = attempt(file, () => adding("x2", () => refuse("the inner one")));
    const tried = attempt(file, () => adding("x3", () => "would be"), { really: false });
    add("x4");
    return [inner, tried];
  });
  expect(outer).toEqual({
    ok: true,
    value: [
      { ok: false, error: "the inner one" },
      { ok: true, value: "would be" },
    ],
  });
  expect(there()).toEqual(["x1", "x4"]);
});

it("a fault is no refusal: it is thrown, and nothing stays; a full disk is told where that is asked for", () => {
  const { file, adding, there } = begin();
  const fault = (): never => {
    throw Object.assign(new Error("database or disk is full"), { code: "SQLITE_FULL" });
  };
  expect(() => attempt(file, () => adding("x1", () => fault()))).toThrow("full");
  expect(attempt(file, () => adding("x2", () => fault()), { full: "make room" })).toEqual({ ok: false, error: "make room" });
  expect(there()).toEqual([]);
});
