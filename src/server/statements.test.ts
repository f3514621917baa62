/**
 * How many statements a request makes, signed in as a client: sessions, the viewer, rules and records together. Pages and routes are
 * called as the framework calls them, with its cookies and headers played by the test.
 */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it, vi } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import type { Result } from "@/core/result";
import { hear, statementsOf, worked } from "@/testing/statements";

hear();
function must<T, E>(r: Result<T, E>): T {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
}

const jar = new Map<string, string>();
vi.mock("next/headers", () => ({
  cookies: async () => ({ get: (name: string) => (jar.has(name) ? { value: jar.get(name) } : undefined), set: () => {}, delete: () => {} }),
  headers: async () => new Headers({ "x-elkhorn-base": "", "x-elkhorn-path": "/signs" }),
}));
vi.mock("react", async (real) => ({ ...(await real<typeof import("react")>()), cache: memoized }));
/** As React's own within one request; `again` begins the next. */
const requests: Map<unknown, unknown>[] = [];
function memoized<A extends unknown[], R>(work: (...args: A) => R): (...args: A) => R {
  const known = new Map<unknown, R>();
  requests.push(known);
  return (...args) => {
    const key = JSON.stringify(args);
    if (!known.has(key)) known.set(key, work(...args));
    return known.get(key)!;
  };
}

const folder = mkdtempSync(join(tmpdir(), "elkhorn-statements-"));
process.env.ELKHORN_DATA = folder;
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const { createPortal } = await import("@/data/installation/portals");
const { insertRow } = await import("@/data/tables/store");
const { schemaOf } = await import("@/data/tables/read");
const { MADE, makeTestSchema, PUBLISHER, testViewer } = await import("@/testing/world");
const { addCompany, addPerson } = await import("@/data/people/people");
const { changeDraft, draftOf } = await import("@/data/definition/draft");
const { published, storePublished } = await import("@/data/definition/published");
const { startSession } = await import("@/identity/sessions/sessions");
const { addStaff, officeSignIn } = await import("@/identity/office/sessions");

const owner = testViewer({ kind: "owner", company: null }) as Owner;
const open = () => {
  const made = createPortal("counted", "Counted", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  return made.file;
};

let file: ReturnType<typeof open>;

beforeAll(async () => {
  file = open();
  const { t } = makeTestSchema(file, false);
  const company = must(addCompany(file, owner, "One"));
  const lead = must(
    addPerson(file, owner, { name: "Dana", email: "dana@one.example", memberships: [{ companyId: company.id, roles: ["lead"] }] }),
  );
  file.db.prepare("UPDATE t_people SET f_person_status = 'active'").run();
  const schema = schemaOf(file);
  const signs = schema.table(t.signs);
  const id = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
  const rules = published(file).definition;
  storePublished(
    file,
    {
      ...rules,
      walls: {
        ...rules.walls,
        [t.sites]: { kind: "owned", path: [id("sites", "company")] },
        [t.projects]: { kind: "owned", path: [id("projects", "company")] },
        [t.signs]: { kind: "owned", path: [id("signs", "project"), id("projects", "company")] },
      },
      grants: [t.signs, t.projects, t.sites].map((table, i): Definition["grants"][number] => ({
        id: `g${i}`,
        roles: ["lead"],
        table,
        actions: ["see", "add", "change", "export"],
        filter: null,
        fields: schema.table(table).fields.map((f) => f.id),
        changes: [],
        feature: null,
        validFrom: null,
        validUntil: null,
      })),
    },
    PUBLISHER,
  );
  insertRow(file, schema.table(t.projects), "p1", { [id("projects", "title")]: "P", [id("projects", "company")]: company.id }, MADE);
  insertRow(file, schema.table(t.sites), "s1", { [id("sites", "name")]: "S", [id("sites", "company")]: company.id }, MADE);
  for (let n = 0; n < 30; n++)
    insertRow(file, signs, `n${n}`, { [id("signs", "code")]: `N${n}`, [id("signs", "project")]: "p1", [id("signs", "site")]: "s1" }, MADE);
  storePublished(file, published(file).definition, PUBLISHER);
  jar.set(`elkhorn_${file.id}`, startSession(file, lead.id, null, Date.now()));
  await addStaff("Rosalind", "rosalind@agency.example", "rosalind-keeps-the-keys", Date.now());
  const office = await officeSignIn("rosalind@agency.example", "rosalind-keeps-the-keys", { address: "here", device: null }, Date.now());
  if (office.ok) jar.set("elkhorn_office", office.value.token);
});

const told = (made: readonly string[]): string => made.map((sql) => sql.slice(0, 160)).join("\n");

/** The second of two alike: what is prepared once, and worked out once for each version, is there. */
async function second(ask: () => Promise<unknown>): Promise<string[]> {
  for (const known of requests) known.clear();
  await ask();
  for (const known of requests) known.clear();
  return statementsOf(ask);
}

it("a list through the API: at most 9", async () => {
  const { GET } = await import("@/app/p/[portal]/api/v1/tables/[table]/records/route");
  const params = Promise.resolve({ portal: "counted", table: "signs" });
  let answer: Response | undefined;
  const made = await second(async () => {
    answer = await GET(new Request("http://counted.localhost/api/v1/tables/signs/records"), { params });
  });
  expect(((await answer!.json()) as { total: number }).total).toBe(30);
  expect(made.length, told(made)).toBeLessThanOrEqual(9);
});

it("what a request asks is prepared once for the file: the next of its kind prepares nothing", async () => {
  const { GET } = await import("@/app/p/[portal]/api/v1/tables/[table]/records/route");
  const ask = () =>
    GET(new Request("http://counted.localhost/api/v1/tables/signs/records"), {
      params: Promise.resolve({ portal: "counted", table: "signs" }),
    });
  await second(ask);
  for (const known of requests) known.clear();
  const prepare = vi.spyOn(file.db, "prepare");
  expect(((await (await ask()).json()) as { total: number }).total).toBe(30);
  expect(prepare.mock.calls.map(([sql]) => sql)).toEqual([]);
  prepare.mockRestore();
});

it("a list page of the portal: at most 11", async () => {
  const { default: Layout } = await import("@/app/p/[portal]/layout");
  const { default: Page } = await import("@/app/p/[portal]/[table]/page");
  const made = await second(async () => {
    const params = Promise.resolve({ portal: "counted", table: "signs" });
    await worked(Layout({ children: null, params }));
    await worked(Page({ params, searchParams: Promise.resolve({}) }));
  });
  expect(made.some((sql) => sql.includes("ORDER BY") && sql.includes("LIMIT"))).toBe(true); // the list itself is among them
  expect(made.length, told(made)).toBeLessThanOrEqual(11);
});

it("the page to publish a draft: at most 25", async () => {
  const done = changeDraft(file, owner, 0, (d) => ({ ...d, brand: { ...d.brand, motto: "Signs that lead" } }));
  expect(done.ok && draftOf(file, owner).changed).toBe(true);
  const { default: Layout } = await import("@/app/(office)/portals/[slug]/layout");
  const { default: Page } = await import("@/app/(office)/portals/[slug]/publish/page");
  const made = await second(async () => {
    const params = Promise.resolve({ slug: "counted" });
    await worked(Layout({ children: null, params }));
    await worked(Page({ params, searchParams: Promise.resolve({}) }));
  });
  expect(made.length, told(made)).toBeLessThanOrEqual(25);
});

it("publishing other words: at most 15, however many tables and pages there are", async () => {
  const { publish, uphold } = await import("@/data/publishing/publish");
  const of = (motto: string): number => {
    const { revision } = draftOf(file, owner);
    must(changeDraft(file, owner, revision, (d) => ({ ...d, brand: { ...d.brand, motto } }), "the motto"));
    return draftOf(file, owner).revision;
  };
  of("first");
  must(publish(file, owner, uphold(draftOf(file, owner), new Set())!));
  of("second");
  const upheld = uphold(draftOf(file, owner), new Set())!;
  const made = await statementsOf(async () => must(publish(file, owner, upheld)));
  expect(made.length, told(made)).toBeLessThanOrEqual(15);
  expect(published(file).definition.brand.motto).toBe("second");
});
