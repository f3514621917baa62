import { expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { published, storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { companyList } from "@/data/people/directory";
import { addCompany, addPerson } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { companyName, sharedNames } from "@/data/tables/company-names";
import { schemaOf } from "@/data/tables/read";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { must } from "@/testing/portal";
import { makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { type Matrix, sightlines } from "./sightlines";

function portal(path: string): OfficePortal {
  const file = { ...memoryPortal(), path };
  makeTestSchema(file);
  storePublished(file, emptyDefinition("T"), PUBLISHER);
  const owner = testViewer({ kind: "owner", company: null }) as Owner;
  return {
    slug: "t",
    staff: { id: "s", name: "S", email: "s@t.example" } as OfficePortal["staff"],
    session: "s",
    owner,
    file,
    live: published(file),
    desk: new Desk(file, published(file).policy, owner),
    now: owner.now,
    at: "/portals/t",
  };
}
const settled = async (p: OfficePortal) => {
  sightlines(p, "live");
  await new Promise((done) => setTimeout(done, 50));
  return sightlines(p, "live");
};
const ready = async (p: OfficePortal): Promise<Matrix> => {
  const found = await settled(p);
  if (found.state !== "ready") throw new Error(found.state);
  return found.value;
};

it("are kept until something is written down, and then counted anew", async () => {
  const p = portal("kept");
  const first = await ready(p);
  expect(first.lines.map((l) => l.name)).toEqual(["A visitor"]);
  expect(await ready(p)).toBe(first);
  addCompany(p.file, p.owner, "One");
  expect((await ready(p)).tables.find((t) => t.slug === "companies")?.all).toBe(1);
});

it("that cannot be counted are told once as failed, not tried for ever, and begun anew by the next to ask", async () => {
  const p = portal("broken");
  p.file.db.exec("DROP TABLE sys_memberships");
  expect((await settled(p)).state).toBe("failed");
  expect(sightlines(p, "live").state).toBe("working");
});

it("count whoever is not in yet as if they had signed in, and tell two companies of one name apart", async () => {
  const p = portal("not in yet");
  const schema = schemaOf(p.file);
  const see = { actions: ["see" as const], filter: null, fields: ["f_company_name"], changes: [] };
  const grant = { id: "g", roles: ["lead"], table: schema.companies.id, ...see, feature: null, validFrom: null, validUntil: null };
  storePublished(p.file, { ...published(p.file).definition, grants: [grant] as Definition["grants"] }, PUBLISHER);
  const first = must(addCompany(p.file, p.owner, "Ash"));
  const second = must(addCompany(p.file, p.owner, "Birch"));
  p.file.db.prepare("UPDATE t_companies SET f_company_name = 'ash', f_company_name_k = 'ash' WHERE id = ?").run(second.id);
  for (const [name, status, companyId] of [
    ["Ann", "invited", first.id],
    ["Bo", "inactive", second.id],
  ] as const)
    must(addPerson(p.file, p.owner, { name, email: `${name}@t.example`, status, memberships: [{ companyId, roles: ["lead"] }] }));
  const { lines, sentences } = await ready({ ...p, live: published(p.file) });
  const companies = published(p.file).policy.schema.tables.indexOf(published(p.file).policy.schema.companies);
  expect(lines.map((l) => [l.name, l.company, l.status, l.cells[companies]![0]])).toEqual([
    ["Ann", "Ash (ash)", "invited", 1],
    ["Bo", "ash (birch)", "inactive", 0],
    ["A visitor", null, "visitor", 0],
  ]);
  expect(sentences).toContain("The account is inactive, so it opens nothing.");
  expect(sharedNames(p.file)).toEqual([{ name: "Ash", companies: 2 }]);
  expect([companyName(p.file, first.id), companyList(p.file, p.owner).map((c) => c.name)]).toEqual([
    "Ash (ash)",
    ["Ash (ash)", "ash (birch)"],
  ]);
});
