import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalId } from "@/core/ids";
import { PUBLISHER } from "@/testing/world";
import { portalIdAt } from "../file/open";
import * as d from "./domains";
import { createPortal, movePortal } from "./portals";

let folder = "";
const owner = { kind: "owner", now: 0 } as unknown as Owner;
const id = (slug: string): PortalId => portalIdAt(slug)!;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "elkhorn-domains-"));
  vi.stubEnv("ELKHORN_DATA", folder);
  for (const slug of ["one", "two"]) createPortal(slug, slug, PUBLISHER);
});
afterEach(() => {
  vi.unstubAllEnvs();
  rmSync(folder, { recursive: true, force: true });
});

test("a domain leads nowhere until it was shown, and is main only then", () => {
  expect(d.addDomain(id("one"), owner, "a.example", "t", 1)).toBe(true);
  expect(d.addDomain(id("one"), owner, "a.example", "t", 1)).toBe(false);
  expect(d.slugAt("a.example")).toBeUndefined();
  expect(d.keepMain(id("one"), owner, "a.example")).toBe(false);
  expect(d.keepShown(id("one"), owner, "a.example", "record", 2)).toBe(true);
  expect(d.slugAt("a.example")).toBe("one");
  expect(d.mainDomain("one")).toBeUndefined();
  expect(d.keepMain(id("one"), owner, "a.example")).toBe(true);
  expect(d.mainDomain("one")).toBe("a.example");
  expect(d.mainDomains()).toEqual(["a.example"]);
  movePortal(owner, "one", "uno");
  expect([d.slugAt("a.example"), d.mainDomain("uno")]).toEqual(["uno", "a.example"]);
  d.keepMain(id("uno"), owner, null);
  expect(d.mainDomain("uno")).toBeUndefined();
  d.dropDomain(id("uno"), owner, "a.example");
  expect(d.slugAt("a.example")).toBeUndefined();
});

test("whoever only says so keeps nobody from a name, and it is one portal's alone once shown", () => {
  d.addDomain(id("one"), owner, "a.example", "t1", 1);
  expect(d.addDomain(id("two"), owner, "a.example", "t2", 1)).toBe(true);
  expect(d.keepShown(id("two"), owner, "a.example", "file", 2)).toBe(true);
  expect(d.keepShown(id("one"), owner, "a.example", "file", 3)).toBe(false);
  expect([d.slugAt("a.example"), d.portalWith("a.example")]).toEqual(["two", "two"]);
  expect(d.keepMain(id("one"), owner, "a.example")).toBe(false);
  expect(d.dropDomain(id("one"), owner, "a.example")).toBe(true);
  expect(d.slugAt("a.example")).toBe("two");
});
