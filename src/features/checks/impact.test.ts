import { beforeEach, expect, it } from "vitest";
import type { Owner } from "@/core/access/viewer";
import type { Definition } from "@/core/definition/definition";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { published, storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { addCompany, addPerson } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { insertRow } from "@/data/records/write/store";
import { schemaOf } from "@/data/schema/read";
import type { OfficePortal } from "@/identity/office-gate";
import { MADE, makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { type Impact, impactOf } from "./impact";

const owner = testViewer({ kind: "owner", company: null }) as Owner;
let made = 0;
let p: OfficePortal;

function must<T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
}

/** Two companies; of three people one may come in, two are only invited. The first draft opens the sites of each to its leads. */
beforeEach(() => {
  const file = { ...memoryPortal(), path: `impact ${++made}` };
  const { t } = makeTestSchema(file);
  const schema = schemaOf(file);
  const field = (slug: string): string => schema.table(t.sites).fields.find((f) => f.slug === slug)!.id;
  const empty = emptyDefinition("T");
  storePublished(file, empty, PUBLISHER);
  const [one, two] = ["One", "Two"].map((name) => must(addCompany(file, owner, name)).id) as [string, string];
  for (const [name, company, status] of [
    ["Ann", one, "invited"],
    ["Bo", two, "invited"],
    ["Cy", two, "active"],
  ] as const)
    must(addPerson(file, owner, { name, email: `${name}@t.example`, status, memberships: [{ companyId: company, roles: ["lead"] }] }));
  for (const [id, company] of [
    ["s1", one],
    ["s2", one],
    ["s3", two],
  ] as const)
    insertRow(file, schema.table(t.sites), id, { [field("name")]: id, [field("company")]: company }, MADE);
  storePublished(file, { ...empty, walls: { ...empty.walls, [t.sites]: { kind: "owned", path: [field("company")] } } }, PUBLISHER); // with whose each record is
  const live = published(file);
  p = {
    slug: "t",
    staff: { id: "s", name: "S", email: "s@t.example" } as OfficePortal["staff"],
    session: "s",
    owner,
    file,
    live,
    desk: new Desk(file, live.policy, owner),
    now: owner.now,
    at: "/portals/t",
  };
  const grant = {
    id: "g",
    roles: ["lead"],
    table: t.sites,
    actions: ["see"],
    filter: null,
    fields: [field("name")],
    changes: [],
    feature: null,
    validFrom: null,
    validUntil: null,
  };
  must(changeDraft(file, owner, draftOf(file, owner).revision, (d) => ({ ...d, grants: [grant] as unknown as Definition["grants"] })));
});

async function found(): Promise<Impact> {
  const outcome = await impactOf(p);
  if (outcome.state !== "ready") throw new Error(outcome.state);
  return outcome.value;
}

it("a draft tells what those who are active gain, and what those who are only invited will see", async () => {
  const impact = await found();
  expect(impact.groups.map((g) => [g.where, g.people, g.shifts.map((s) => [s.name, s.gained])])).toEqual([["Two", ["Cy"], [["Sites", 1]]]]);
  expect([impact.active, impact.later]).toEqual([1, { people: 2, tables: ["Sites"] }]);
});

it("where nobody is active yet, that is said, and all of it is for later", async () => {
  p.file.db.prepare("UPDATE t_people SET f_person_status = 'invited'").run();
  p.file.db.prepare("INSERT INTO sys_events (at, actor_kind, via, act) VALUES (0, 'system', 'job', 'test')").run();
  const impact = await found();
  expect([impact.groups, impact.active, impact.later]).toEqual([[], 0, { people: 3, tables: ["Sites"] }]);
});
