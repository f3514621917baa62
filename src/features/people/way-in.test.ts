/** Whoever makes a way in for somebody who has their own could be them: an owner alone may, in the open. */

import { beforeAll, describe, expect, it } from "vitest";
import { control } from "@/data/file/open";
import { addPerson, setStatus } from "@/data/people/people";
import { storePassword } from "@/identity/entering/sign-in";
import { beginStaffSession } from "@/identity/office/sessions";
import { tokenHash } from "@/identity/secrets/secrets";
import { ownFolder } from "@/testing/folder";
import { must, testPortal } from "@/testing/portal";
import { hasOwnWay, noteWayMade, whyNoWay, whyNoWayFor } from "./way-in";

ownFolder();
beforeAll(() => {
  control().db.exec("INSERT INTO staff (id, email, name, hash, created_at) VALUES ('s', 's@agency.example', 'Sam', 'x', '2026')");
});

function asking(role: "owner" | "builder" | "support", signedIn = Date.now()) {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "sites" }] });
  const session = tokenHash(beginStaffSession("s", signedIn));
  return {
    ...p,
    file: p.file,
    owner: p.owner,
    session,
    staff: { id: "s", name: "Sam", email: "s@agency.example", role },
    now: p.owner.now,
    p,
  };
}
const invited = ({ p }: ReturnType<typeof asking>): string =>
  must(
    addPerson(p.file, p.owner, {
      name: "Ada",
      email: "ada@t.example",
      memberships: [{ companyId: p.company("One"), roles: ["lead"] }],
      status: "invited",
    }),
  ).id;

describe("a way in for somebody else", () => {
  it("the first may be made by support; beside one of their own an owner alone may, it is logged, and they are told", async () => {
    for (const role of ["support", "builder", "owner"] as const) {
      const a = asking(role);
      const id = invited(a);
      expect([role, hasOwnWay(a.file, id), whyNoWay(a, id)]).toEqual([role, false, null]);
      noteWayMade(a, id, "a link");
      await storePassword(a.file, id, "a password of her own, long", false, a.now);
      expect([role, hasOwnWay(a.file, id)]).toEqual([role, true]);
      if (role !== "owner") {
        expect(whyNoWayFor(a, id)).toContain("ask an owner");
        expect(whyNoWay(a, id)).toContain("Ada signs in already");
        continue;
      }
      expect(whyNoWay(a, id)).toBeNull();
      noteWayMade(a, id, "a link");
      expect(a.file.db.prepare("SELECT act, detail FROM sys_events WHERE act = 'way-in-made'").all()).toEqual([
        { act: "way-in-made", detail: "a link" },
      ]);
      expect(a.file.db.prepare("SELECT body FROM sys_messages").pluck().all().join()).toContain("another way to sign in");
    }
  });
  it("whoever comes in by their mail alone has a way of their own, too", () => {
    const a = asking("support");
    const id = invited(a);
    setStatus(a.file, { kind: "person", id }, id, "active", a.now);
    expect(whyNoWay(a, id)).toContain("signs in already");
  });
  it("asks for a sign-in of the last quarter of an hour, of the owner, too", () => {
    const a = asking("owner", Date.now() - 16 * 60_000);
    expect(whyNoWay(a, invited(a))).toContain("sign-in from the last 15 minutes");
  });
});
