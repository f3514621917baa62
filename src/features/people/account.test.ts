/** Last days, names to sign in by, and the face of a person. */

import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { PICTURE_FIELD } from "@/core/schema/types";
import { keepContentsIn } from "@/data/files/store";
import { accountOf, endAccounts, personIdBySignIn, setSignInName, setUntil } from "@/data/people/account";
import { addPerson, personFacts } from "@/data/people/people";
import { ownPicture, removeOwnPicture, setOwnPicture } from "@/data/people/picture";
import { folderFiles } from "@/services/files/folder";
import { ownFolder } from "@/testing/folder";
import { must, testPortal } from "@/testing/portal";

ownFolder();
beforeAll(() => {
  keepContentsIn(folderFiles);
});

const DAY = 86_400_000;
function dana() {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects" }] });
  const desk = p.person("Dana", "Ash", "lead");
  const id = desk.viewer.person!.id;
  const on = (days: number): string => new Date(p.owner.now + days * DAY).toISOString().slice(0, 10);
  return { p, desk, id, on, status: () => personFacts(p.file, id)?.status };
}

describe("a last day", () => {
  it("ends the account when it is over, not before, and a later one opens it again", () => {
    const { p, id, on, status } = dana();
    must(setUntil(p.file, p.owner, id, on(1)));
    expect([endAccounts(p.file, p.owner.now), status()]).toEqual([0, "active"]);
    expect([endAccounts(p.file, p.owner.now + DAY), status()]).toEqual([0, "active"]);
    expect([endAccounts(p.file, p.owner.now + 2 * DAY), status()]).toEqual([1, "expired"]);
    must(setUntil(p.file, p.owner, id, on(5)));
    expect(status()).toBe("active");
    must(setUntil(p.file, p.owner, id, on(-1)));
    expect(status()).toBe("expired");
    must(setUntil(p.file, p.owner, id, null));
    expect([status(), accountOf(p.file, id).until]).toEqual(["active", null]);
    expect(setUntil(p.file, p.owner, id, "tomorrow")).toMatchObject({ ok: false });
    expect(setUntil(p.file, p.owner, "nobody", null)).toMatchObject({ ok: false });
  });

  it("opens nobody who is inactive for another reason", () => {
    const { p, id, on, status } = dana();
    p.file.db.prepare("UPDATE t_people SET f_person_status = 'inactive' WHERE id = ?").run(id);
    must(setUntil(p.file, p.owner, id, on(-1)));
    must(setUntil(p.file, p.owner, id, null));
    expect(status()).toBe("inactive");
  });
});

describe("a name to sign in by", () => {
  it("is one person's alone whatever its capitals, and no address", () => {
    const { p, id } = dana();
    must(setSignInName(p.file, p.owner, id, "Dana.A"));
    expect(personIdBySignIn(p.file, " dana.a ")).toBe(id);
    expect(personIdBySignIn(p.file, "dana@t.example")).toBe(id);
    const other = must(addPerson(p.file, p.owner, { name: "No Mail", email: "", signInName: true, memberships: [] })).id;
    expect(personFacts(p.file, other)?.email).toBe("");
    for (const name of ["DANA.a", "", "a@b", "-x", "a b", "x".repeat(61)])
      expect([name, setSignInName(p.file, p.owner, other, name).ok]).toEqual([name, false]);
    must(setSignInName(p.file, p.owner, other, "nomail"));
    must(setSignInName(p.file, p.owner, id, ""));
    expect(personIdBySignIn(p.file, "dana.a")).toBeUndefined();
  });
});

describe("a face", () => {
  const jpeg = async (): Promise<Blob> =>
    new Blob([
      new Uint8Array(
        await sharp({ create: { width: 64, height: 64, channels: 3, background: "#884422" } })
          .jpeg()
          .toBuffer(),
      ),
    ]);

  it("is one's own to set and take away, and only as oneself", async () => {
    const { p, desk, id } = dana();
    must(await setOwnPicture(p.file, desk.viewer, await jpeg()));
    expect(await ownPicture(p.file, id)).toMatch(/^data:image\/webp;base64,/);
    const held = () =>
      JSON.parse(String(p.file.db.prepare(`SELECT "${PICTURE_FIELD}" FROM t_people WHERE id = ?`).pluck().get(id) ?? "[]")) as string[];
    const first = held();
    must(await setOwnPicture(p.file, desk.viewer, await jpeg()));
    expect(held()).toHaveLength(1);
    expect(held()).not.toEqual(first);
    for (const viewer of [p.visitor().viewer, p.owner, { ...desk.viewer, mode: "see-as" } as never])
      expect(await setOwnPicture(p.file, viewer, await jpeg())).toMatchObject({ ok: false });
    expect(removeOwnPicture(p.file, p.visitor().viewer)).toBe(false);
    expect(removeOwnPicture(p.file, desk.viewer)).toBe(true);
    expect(await ownPicture(p.file, id)).toBeNull();
  });

  it("is a picture or nothing", async () => {
    const { p, desk, id } = dana();
    expect(await setOwnPicture(p.file, desk.viewer, new Blob(["<svg onload=alert(1)>"]))).toMatchObject({ ok: false });
    expect(await setOwnPicture(p.file, desk.viewer, new Blob([new Uint8Array(2_000_000)]))).toMatchObject({
      ok: false,
      error: "This picture is too large.",
    });
    expect(await ownPicture(p.file, id)).toBeNull();
    expect(p.file.db.prepare("SELECT count(*) FROM sys_files").pluck().get()).toBe(0);
  });
});
