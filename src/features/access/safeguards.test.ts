/** Safeguards against the draft: everybody they speak of is asked, those who are not there yet among them. */

import { beforeEach, expect, it, vi } from "vitest";
import type { Claim, Subject } from "@/core/access/safeguards";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { published, storePublished } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { emptyDefinition } from "@/data/installation/portals";
import { addCompany, addPerson } from "@/data/people/people";
import { publish } from "@/data/publishing/publish";
import { Desk } from "@/data/records/desk";
import { schemaOf } from "@/data/tables/read";
import { insertRow } from "@/data/tables/store";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { holds, type Verdict } from "@/office/checking";
import { MADE, makeTestSchema, memoryPortal, PUBLISHER, signsGrant, testViewer } from "@/testing/world";
import { safeguardsOf, upheld } from "./safeguards";

const owner = testViewer({ kind: "owner", company: null }) as Owner;
let file: PortalFile;
let t: ReturnType<typeof makeTestSchema>["t"];
let grant: (more: Parameters<typeof signsGrant>[1]) => Definition["grants"][number];
let [one, two] = ["", ""];
const must = <T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
};
const field = (table: string, slug: string): string =>
  schemaOf(file)
    .tableBySlug(table)!
    .fields.find((f) => f.slug === slug)!.id;

beforeEach(() => {
  file = memoryPortal();
  ({ t } = makeTestSchema(file));
  grant = (more) => signsGrant(schemaOf(file), more) as Definition["grants"][number];
  const roles: Definition["roles"] = [
    { id: "lead", name: "Lead", side: "client", includes: [] },
    { id: "onlooker", name: "Onlooker", side: "client", includes: [] },
    { id: "visitor", name: "Visitor", side: "visitor", includes: [] },
  ];
  const walls: Definition["walls"] = {
    ...emptyDefinition("T").walls,
    [t.projects]: { kind: "owned", path: [field("projects", "company")] },
    [t.signs]: { kind: "owned", path: [field("signs", "project"), field("projects", "company")] },
  };
  storePublished(file, { ...emptyDefinition("T"), roles, walls, grants: [grant({})] as Definition["grants"] }, PUBLISHER);
  [one, two] = [must(addCompany(file, owner, "One")).id, must(addCompany(file, owner, "Two")).id];
  const schema = schemaOf(file);
  for (const c of [one, two]) {
    insertRow(file, schema.table(t.projects), `p-${c}`, { [field("projects", "company")]: c }, MADE);
    for (const n of [1, 2])
      insertRow(
        file,
        schema.table(t.signs),
        `s${n}-${c}`,
        { [field("signs", "code")]: `S${n}`, [field("signs", "project")]: `p-${c}` },
        MADE,
      );
  }
  storePublished(file, published(file).definition, PUBLISHER); // works out the companies of the records above
});

const person = (name: string, company: string, role: string, status: "active" | "invited" | "awaiting approval" = "active"): string =>
  must(
    addPerson(file, owner, {
      name,
      email: `${name.toLowerCase()}@t.example`,
      memberships: [{ companyId: company, roles: [role] }],
      status,
    }),
  ).id;

const portal = (): OfficePortal =>
  ({
    slug: "test",
    staff: { id: "o", name: "O" },
    owner,
    now: owner.now,
    file,
    live: published(file),
    desk: new Desk(file, published(file).policy, owner),
    at: "/portals/test",
  }) as OfficePortal;

const draft = (edit: (d: Definition) => Definition): void => {
  const done = changeDraft(file, owner, draftOf(file, owner).revision, edit);
  if (!done.ok) throw new Error(JSON.stringify(done.error));
};
const guard = (subject: Subject, claim: Claim, table = t.signs) =>
  draft((d) => ({ ...d, safeguards: [...d.safeguards, { id: `s${d.safeguards.length}`, subject, table, claim }] }));
async function verdicts(): Promise<readonly Verdict[]> {
  const outcome = await safeguardsOf(portal());
  if (outcome.state !== "ready") throw new Error(outcome.state);
  return outcome.value;
}
const clients: Subject = { kind: "side", side: "client" };
const seeNothing: Claim = { kind: "nothing", action: "see" };

it("holds or names who breaks it, with their records; publishing waits until it is withdrawn", async () => {
  const ada = person("Ada", one, "lead");
  guard(clients, { kind: "nothing", action: "change" });
  guard({ kind: "person", person: ada, company: one }, { kind: "count", bound: "exactly", n: 3 });
  const [broken, kept] = await verdicts();
  expect([kept!.sentence, holds(kept!), kept!.asked]).toEqual(["No client changes any record of Signs.", true, 1]);
  expect(broken).toMatchObject({ sentence: "Ada, acting for One, sees exactly 3 records of Signs.", broken: 1, asked: 1 });
  expect(broken!.breakers[0]).toMatchObject({ name: "Ada", company: "One", roles: "Lead", n: 2, later: false });
  expect(broken!.breakers[0]!.examples.map((x) => x.label)).toEqual(["S1", "S2"]);
  expect((await upheld(portal())).upheld).toBe("broken");
  draft((d) => ({ ...d, safeguards: d.safeguards.slice(0, 1) }));
  const word = (await upheld(portal())).upheld;
  if (typeof word === "string") throw new Error(word);
  expect(publish(file, owner, word).ok).toBe(true);
});

it("asks whoever is not in yet as though they had signed in; of who waits for approval, what is forbidden alone", async () => {
  const bea = person("Bea", one, "lead", "invited");
  const cy = person("Cy", one, "lead", "awaiting approval");
  const counts = (who: string, n: number): void =>
    void guard({ kind: "person", person: who, company: null }, { kind: "count", bound: "exactly", n });
  guard({ kind: "person", person: bea, company: null }, seeNothing);
  counts(bea, 2);
  guard({ kind: "person", person: cy, company: null }, seeNothing);
  counts(cy, 0);
  expect(new Map((await verdicts()).map((v) => [v.sentence, v.broken]))).toEqual(
    new Map([
      ["Bea never sees any record of Signs.", 1],
      ["Bea sees exactly 2 records of Signs.", 0],
      ["Cy never sees any record of Signs.", 1],
      ["Cy sees exactly 0 records of Signs.", 0],
    ]),
  );
});

it("asks for somebody new where nobody holds a role: in each company, of the company that has the role, and never of numbers", async () => {
  guard({ kind: "role", role: "lead" }, seeNothing);
  guard({ kind: "role", role: "lead" }, { kind: "count", bound: "at least", n: 1 });
  guard({ kind: "company", company: two }, seeNothing);
  const told = await verdicts();
  expect(told[0]!.breakers.map((b) => [b.as, b.name, b.company, b.n])).toEqual([
    [null, "Somebody new as Lead", "One", 2],
    [null, "Somebody new as Lead", "Two", 2],
  ]);
  expect(told.map((v) => [v.sentence, v.broken, v.asked])).toEqual([
    ["Nobody as Lead sees any record of Signs.", 2, 0],
    ["Nobody of Two sees any record of Signs.", 1, 0],
    ["Everybody as Lead sees at least 1 record of Signs.", 0, 0],
  ]);
  person("Ada", one, "lead");
  draft((d) => ({ ...d, roles: d.roles.map((r) => (r.id === "lead" ? { ...r, companyId: one } : r)) }));
  expect((await verdicts())[0]!.breakers.map((b) => [b.name, b.company])).toEqual([["Ada", "One"]]);
});

it("looks ahead to grants that begin later, however many and whenever", async () => {
  person("Ada", one, "onlooker");
  guard({ kind: "role", role: "onlooker" }, seeNothing);
  expect((await verdicts())[0]!.broken).toBe(0);
  draft((d) => ({
    ...d,
    grants: [...d.grants, grant({ id: "g2", roles: ["onlooker"], validFrom: "2100-02-01", validUntil: "2100-02-01" })],
  }));
  const [late] = await verdicts();
  expect(late!.breakers.map((b) => [b.name, b.n, b.later])).toEqual([
    ["Ada", 2, true],
    ["Somebody new as Onlooker", 2, true],
  ]);
});

it("keeps whose a record is apart from the wall: a draft that moves or opens the wall breaks it, and says for whom", async () => {
  person("Ada", one, "lead");
  guard(clients, { kind: "others", action: "see", way: [field("signs", "project"), field("projects", "company")] });
  expect((await verdicts()).map((v) => v.broken)).toEqual([0]);
  const wall = (w: Definition["walls"][string]) => draft((d) => ({ ...d, walls: { ...d.walls, [t.signs]: w } }));
  wall({ kind: "shared" });
  const [open] = await verdicts();
  expect(open!.breakers[0]).toMatchObject({ name: "Ada", company: "One", n: 2 });
  expect(open!.breakers[0]!.examples.map((x) => x.id)).toEqual([`s1-${two}`, `s2-${two}`]);
  wall({ kind: "owned", path: [field("signs", "site"), field("sites", "company")] });
  expect((await verdicts())[0]!.broken).toBe(0); // no sign has a site: the moved wall shows nothing
  const sites = schemaOf(file).table(t.sites);
  insertRow(file, sites, "site", { [field("sites", "company")]: one }, MADE);
  file.db.prepare(`UPDATE "${t.signs}" SET "${field("signs", "site")}" = 'site' WHERE id = ?`).run(`s1-${two}`);
  draft((d) => ({ ...d, brand: { ...d.brand, motto: "counted anew" } }));
  expect((await verdicts())[0]!.breakers.map((b) => [b.name, b.examples.map((x) => x.id)])).toEqual([["Ada", [`s1-${two}`]]]);
});

it("a safeguard on what is gone is broken until it is withdrawn", async () => {
  guard({ kind: "role", role: "onlooker" }, seeNothing);
  draft((d) => ({ ...d, roles: d.roles.filter((r) => r.id !== "onlooker") }));
  const [v] = await verdicts();
  expect([v!.sentence, v!.problems, holds(v!)]).toEqual([
    "Nobody as a removed role sees any record of Signs.",
    ["It speaks of a role that is gone."],
    false,
  ]);
  expect((await upheld(portal())).upheld).toBe("broken");
});

it("where the check cannot be made nothing is upheld", async () => {
  guard(clients, seeNothing);
  const whole = portal();
  file.db.exec("ALTER TABLE sys_memberships RENAME TO away");
  vi.spyOn(console, "error").mockImplementation(() => {});
  expect((await upheld(whole)).upheld).toBe("unchecked");
  vi.restoreAllMocks();
  file.db.exec("ALTER TABLE away RENAME TO sys_memberships");
  expect((await upheld(whole)).upheld).not.toBe("unchecked");
});
