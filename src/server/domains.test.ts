/** The daily look at names of hosts: what is gone for two days leads nowhere, and owners are told both times. */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it, vi } from "vitest";
import { config } from "@/config";
import { FILE_PATH, recordName, recordText } from "@/core/address/domain";
import { portalIdAt } from "@/data/file/open";
import { addDomain, keepMain, keepShown, mainDomain, slugAt } from "@/data/installation/domains";
import { createPortal } from "@/data/installation/portals";
import { addStaff } from "@/identity/office/sessions";
import { ownerViewer } from "@/identity/viewers/viewer";
import { namesFolder } from "@/services/names";
import { keepEntries } from "@/services/names/stand-in";
import { PUBLISHER } from "@/testing/world";
import { lookAtDomains } from "./domains";

const NOW = Date.UTC(2026, 5, 1, 2);
const DAY = 86_400_000;
const HOST = "clients.agency.example";
const owner = ownerViewer({ id: "o", name: "Owner" }, NOW);
const folder = mkdtempSync(join(tmpdir(), "elkhorn-domains-"));
beforeAll(async () => {
  vi.stubEnv("ELKHORN_DATA", folder);
  vi.stubEnv("ELKHORN_NAMES", "stand-in");
  await addStaff("Rosalind Fern", "rosalind@agency.example", "seven green herons wade", NOW);
});
afterAll(() => {
  vi.unstubAllEnvs();
  rmSync(folder, { recursive: true, force: true });
});

const subjects = (): string[] =>
  readdirSync(join(folder, "mail"))
    .sort()
    .flatMap((f) => /^Subject: (.*)$/m.exec(readFileSync(join(folder, "mail", f), "utf8"))?.[1]?.trim() ?? [])
    .filter((s) => s.startsWith(HOST));

it("one bad day is told, two stop it, and a day between begins anew; a file counts as a record does", async () => {
  createPortal("one", "One", PUBLISHER);
  const portal = portalIdAt("one")!;
  addDomain(portal, owner, HOST, "token", NOW);
  keepShown(portal, owner, HOST, "record", NOW);
  keepMain(portal, owner, HOST);
  const says = (...entries: Parameters<typeof keepEntries>[1]): void => keepEntries(namesFolder(config()), entries);
  const record = { kind: "text" as const, name: recordName(HOST), says: recordText("token") };
  says(record);
  await lookAtDomains(NOW);
  says();
  await lookAtDomains(NOW + DAY);
  expect([slugAt(HOST), subjects()]).toEqual(["one", [`${HOST}: record not found`]]);
  says({ kind: "file", name: HOST + FILE_PATH, says: `${recordText("token")}\n` });
  await lookAtDomains(NOW + 2 * DAY);
  says({ ...record, says: recordText("another's") });
  await lookAtDomains(NOW + 3 * DAY);
  expect([slugAt(HOST), mainDomain("one")]).toEqual(["one", HOST]);
  await lookAtDomains(NOW + 4 * DAY);
  expect([slugAt(HOST), mainDomain("one")]).toEqual([undefined, undefined]);
  expect(subjects().sort()).toEqual([`${HOST}: record not found`, `${HOST}: record not found`, `${HOST}: stopped`]);
  await lookAtDomains(NOW + 5 * DAY);
  expect(subjects()).toHaveLength(3);
});
