/** Where a plan comes first: the unpaid role alone, for everybody of a company without one, by every way a viewer is made. */

import { expect, it } from "vitest";
import { setSubscription } from "@/data/billing/standing";
import { published, storePublished } from "@/data/definition/published";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { everyone } from "./crowd";
import { personViewer } from "./viewer";

ownFolder();

const BY = { actor: { kind: "system", id: "test" }, via: "job", at: 0 } as const;

it("counts until there is a plan, and again when it lapses; the agency's people need none", () => {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "signs" },
      { roles: ["looker"], table: "sites" },
    ],
  });
  const dana = p.person("Dana", "One", "lead").viewer.person!.id;
  const ines = p.person("Ines", null, "staff").viewer.person!.id;
  const now = p.owner.now;
  const d = published(p.file).definition;
  const plan = { id: "a", name: "A", about: "", features: [], allowances: [], seats: null, offered: "all" as const };
  const publish = (unpaid: string | null, planFirst: boolean) =>
    storePublished(p.file, { ...d, plans: [plan], billing: { ...d.billing, planFirst, unpaid } }, PUBLISHER);
  const roles = (id: string) => {
    const one = personViewer(p.file, id, null, now)!.roles;
    const crowd = everyone(p.file, published(p.file).definition, p.owner, now).find((s) => s.personId === id)!.viewer.roles;
    expect(crowd).toEqual(one); // what is counted for all is what each of them has
    return one;
  };
  const pay = (state: "active" | "trial" | "grace" | "lapsed", until: string | null) =>
    setSubscription(p.file, p.company("One"), { plan: "a", state, until, timeZone: "UTC" }, BY);
  publish(null, false);
  expect(roles(dana)).toEqual(["lead"]);
  publish("looker", true);
  expect([roles(dana), roles(ines)]).toEqual([["looker"], ["staff"]]);
  publish(null, true);
  expect(roles(dana)).toEqual([]);
  publish("looker", true);
  pay("active", null);
  expect(roles(dana)).toEqual(["lead"]);
  pay("trial", "2026-06-14"); // over yesterday
  expect(roles(dana)).toEqual(["looker"]);
  pay("grace", "2026-06-20");
  expect(roles(dana)).toEqual(["lead"]);
  pay("lapsed", null);
  expect(roles(dana)).toEqual(["looker"]);
});
