import { beforeEach, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { published, storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { addCompany, addPerson } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { schemaOf } from "@/data/tables/read";
import { insertRow } from "@/data/tables/store";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { MADE, makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { type Impact, impactOf } from "./impact";

const owner = testViewer({ kind: "owner", company: null }) as Owner;
let p: OfficePortal;

function must<T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
}

/** Two companies; of three people one may come in, two are only invited. The first draft opens the sites of each to its leads. */
beforeEach(() => {
  const file = memoryPortal();
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

const told = (impact: Impact) => impact.groups.map((g) => [g.where, g.people, g.shifts.map((s) => [s.name, s.gained, s.lost])]).sort();
/** Writes past the functions that would note it, and a line that says something happened. */
function statusOf(name: string | null, status: string): void {
  p.file.db.prepare("UPDATE t_people SET f_person_status = ? WHERE ? IS NULL OR f_person_name = ?").run(status, name, name);
  p.file.db.prepare("INSERT INTO sys_events (at, actor_kind, via, act) VALUES (0, 'system', 'job', 'test')").run();
}

it("a draft tells what everybody gains, whoever is not in yet as if they had signed in", async () => {
  const impact = await found();
  expect(told(impact)).toEqual([
    ["One", ["Ann"], [["Sites", 2, 0]]],
    ["Two", ["Bo", "Cy"], [["Sites", 1, 0]]],
  ]);
  expect([impact.active, impact.notInYet]).toEqual([3, 2]);
});

it("what is lost is told of them, too", async () => {
  const { definition } = draftOf(p.file, owner);
  storePublished(p.file, definition, PUBLISHER);
  p = { ...p, live: published(p.file) };
  must(changeDraft(p.file, owner, draftOf(p.file, owner).revision, (d) => ({ ...d, grants: [] })));
  const impact = await found();
  expect(told(impact)).toEqual([
    ["One", ["Ann"], [["Sites", 0, 2]]],
    ["Two", ["Bo", "Cy"], [["Sites", 0, 1]]],
  ]);
});

it("who waits for approval gains and loses later; who may not come in, nothing", async () => {
  statusOf(null, "inactive");
  expect((await found()).groups).toEqual([]);
  statusOf("Ann", "awaiting approval");
  const impact = await found();
  expect([impact.groups, impact.active]).toEqual([[], 0]);
  expect(impact.later).toEqual({ more: { people: 1, tables: ["Sites"] }, fewer: { people: 0, tables: [] } });
});
