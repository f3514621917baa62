/** Viewers made in bulk are the viewers made one by one. */

import { expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { system } from "@/core/events/event";
import { setSubscription } from "@/data/billing/standing";
import { storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { addCompany, addPerson, membershipsOf } from "@/data/people/people";
import { makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { everyone } from "./crowd";
import { personViewer, visitorViewer } from "./viewer";

const BY = { actor: system("test"), via: "job", at: 0 } as const;
const owner = testViewer({ kind: "owner", company: null }) as Owner;
const must = <T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
};

it("for each membership of each person, for those without one, and for visitors", () => {
  const file = memoryPortal();
  makeTestSchema(file);
  const plan = { id: "all", name: "All", about: "", seats: null, offered: "all" as const, features: ["portal"], allowances: [] };
  const definition: Definition = {
    ...emptyDefinition("T"),
    roles: [
      { id: "lead", name: "Lead", side: "client", includes: [] },
      { id: "staff", name: "Staff", side: "agency", includes: [] },
    ],
    features: [{ id: "portal", name: "the portal" }],
    plans: [plan],
  };
  storePublished(file, definition, PUBLISHER);
  const [one, two] = [must(addCompany(file, owner, "One")), must(addCompany(file, owner, "Two"))];
  setSubscription(file, one.id, { plan: "all", state: "active", until: null, timeZone: "UTC" }, BY);
  setSubscription(file, two.id, { plan: "all", state: "lapsed", until: "2020-01-01", timeZone: "UTC" }, BY);
  const both = [
    { companyId: one.id, roles: ["lead"] },
    { companyId: two.id, roles: ["lead"] },
  ];
  must(addPerson(file, owner, { name: "Ada", email: "ada@one.example", memberships: both, status: "active" }));
  must(addPerson(file, owner, { name: "Bea", email: "bea@two.example", memberships: [], status: "active" }));
  must(
    addPerson(file, owner, {
      name: "Cleo",
      email: "cleo@t.example",
      memberships: [{ companyId: null, roles: ["staff"] }],
      status: "inactive",
    }),
  );
  const now = Date.UTC(2026, 5, 1);
  const all = everyone(file, definition, owner, now);
  expect(all.map((s) => [s.name, s.company, s.status, [...s.viewer.features]])).toEqual([
    ["Bea", null, "active", []],
    ["Cleo", null, "inactive", ["portal"]],
    ["Ada", "One", "active", ["portal"]],
    ["Ada", "Two", "active", []],
    ["A visitor", null, "visitor", []],
  ]);
  for (const s of all) {
    const alone = s.personId ? personViewer(file, s.personId, s.membershipId, now, "see-as")! : visitorViewer(file, now);
    const { worked: _, ...mine } = s.viewer;
    const { worked: __, ...theirs } = alone;
    expect(theirs).toMatchObject(mine); // one by one, they have an address and a slug besides, which no rule reads
    if (s.personId)
      expect(membershipsOf(file, s.personId).map((m) => m.id)).toEqual(
        all.filter((x) => x.personId === s.personId).flatMap((x) => x.membershipId ?? []),
      );
  }
});
