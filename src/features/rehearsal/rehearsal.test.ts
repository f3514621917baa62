/** A rehearsal: what it leaves behind, whose files it reads, and that nothing of it reaches anybody or comes back. */

import { readFileSync } from "node:fs";
import { Readable } from "node:stream";
import { afterAll, beforeAll, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { rehearsalIn, timeIn } from "@/data/file/clock";
import { closeFiles, portalFile } from "@/data/file/open";
import { keepContentsIn, storeOf } from "@/data/files/store";
import { createPortal, listPortals } from "@/data/installation/portals";
import { endRehearsal, makeRehearsal, rehearsalOf, setAhead, sweepRehearsals } from "@/data/installation/rehearsal";
import { write } from "@/data/messages/outbox";
import { addPerson } from "@/data/people/people";
import { storePassword } from "@/identity/entering/sign-in";
import { startSession } from "@/identity/sessions/sessions";
import { folderFiles } from "@/services/files/folder";
import { ownFolder } from "@/testing/folder";
import { PUBLISHER, testViewer } from "@/testing/world";

ownFolder();
const owner = testViewer({ kind: "owner", company: null }) as Owner;
beforeAll(() => {
  keepContentsIn(folderFiles);
});
afterAll(() => {
  closeFiles();
});

it("is a copy without a way in and without secrets, held back from the world, whose end leaves the portal as it was", async () => {
  const made = createPortal("inn", "Inn", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  const dana = addPerson(file, owner, { name: "Dana", email: "dana@inn.example", memberships: [], status: "active" });
  if (!dana.ok) throw new Error(dana.error.message);
  await storePassword(file, dana.value.id, "dana-likes-long-passwords", false, owner.now);
  startSession(file, dana.value.id, null, owner.now);
  file.db.exec(
    "INSERT INTO sys_provider VALUES (1, 'acc', 'test', 'SEALED-SECRET-OF-THE-PROVIDER', 'abcd', 'SEALED-HOOK', 'efgh', 'R', 0)",
  );
  const { hash } = await storeOf(file).put(Readable.from([Buffer.from("a plan of the house")]), 1_000);

  const copy = await makeRehearsal(file, owner, "Rosalind");
  expect([copy.slug, rehearsalIn(copy)?.slug, rehearsalIn(file)]).toEqual(["rehearsal-inn", "inn", null]);
  for (const table of [
    "sys_sessions",
    "sys_credentials",
    "sys_provider",
    "sys_links",
    "sys_jobs",
    "sys_keys",
    "sys_webhooks",
    "sys_source_sends",
    "sys_sources",
  ])
    expect([table, copy.db.prepare(`SELECT count(*) FROM ${table}`).pluck().get()]).toEqual([table, 0]);
  copy.db.pragma("wal_checkpoint(TRUNCATE)");
  expect(readFileSync(copy.path).includes("SEALED-SECRET-OF-THE-PROVIDER")).toBe(false);
  expect(listPortals(owner).map((p) => p.slug)).toEqual(["inn"]);

  // Nothing leaves it; the portal's own mail goes as ever.
  const letter = {
    occasion: "doors-changed",
    to: { personId: null, email: "dana@inn.example" },
    said: { note: "x", portal: "Inn" },
    link: null,
    by: "system",
    now: 1,
  } as const;
  write(copy, letter);
  write(file, letter);
  const states = (f: typeof file) => f.db.prepare("SELECT state FROM sys_messages").pluck().all();
  expect([states(copy), states(file), copy.db.prepare("SELECT count(*) FROM sys_jobs").pluck().get()]).toEqual([["ready"], ["waiting"], 0]);

  // It reads the portal's files and keeps its own; removing one of the portal's from there removes nothing.
  const text = async (f: typeof file, h: string): Promise<string> => {
    const stream = await storeOf(f).open(h);
    return stream ? Buffer.concat(await stream.toArray()).toString() : "";
  };
  expect(await text(copy, hash)).toBe("a plan of the house");
  const own = await storeOf(copy).put(Readable.from([Buffer.from("only tried")]), 1_000);
  await storeOf(copy).remove(hash);
  expect([await text(file, hash), await text(copy, own.hash), await storeOf(file).size(own.hash)]).toEqual([
    "a plan of the house",
    "only tried",
    undefined,
  ]);

  // Its clock goes forward alone, and is nobody else's.
  setAhead(copy, owner, 86_400_000);
  setAhead(copy, owner, 5);
  expect([timeIn(copy, 1_000), timeIn(file, 1_000)]).toEqual([86_401_000, 1_000]);

  copy.db.prepare("UPDATE t_people SET f_person_name = 'Somebody else'").run();
  expect(endRehearsal("inn", owner)).toBe(true);
  expect([portalFile("rehearsal-inn"), rehearsalOf("inn"), endRehearsal("inn", owner)]).toEqual([undefined, null, false]);
  expect(file.db.prepare("SELECT f_person_name FROM t_people").pluck().get()).toBe("Dana");

  await makeRehearsal(file, { ...owner, now: 0 } as Owner, "Rosalind");
  sweepRehearsals(Date.now());
  expect(rehearsalOf("inn")).toBeNull();
});
