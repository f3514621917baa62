/**
 * How many statements a request makes in the portal of the demo, with all its tables, pages, plans and conversations, for a client and for
 * the office. None makes the same one twice with the same values.
 */
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliDecompressSync } from "node:zlib";
import { beforeAll, expect, it, vi } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { ownFolder } from "@/testing/folder";
import { head, jar, nextRequest } from "@/testing/requests";
import { hear, statementsOf, worked } from "@/testing/statements";
import { NEW_FORM } from "@/ui/forms/form";

hear();
vi.mock("next/headers", async () => (await import("@/testing/requests")).playedHeaders());
vi.mock("react", async (real) => ({ ...(await real<typeof import("react")>()), cache: (await import("@/testing/requests")).memoized }));

const KEPT = join(import.meta.dirname, "../testing/formats/before-event-kinds");
const folder = ownFolder();
process.env.ELKHORN_DATA = folder;
mkdirSync(join(folder, "portals"), { recursive: true });
for (const f of readdirSync(KEPT).filter((f) => f.endsWith(".db.br"))) {
  const to = f === "elkhorn.db.br" ? folder : join(folder, "portals");
  writeFileSync(join(to, f.slice(0, -".br".length)), brotliDecompressSync(readFileSync(join(KEPT, f))));
}

const { portalFile } = await import("@/data/file/open");
const { startSession } = await import("@/identity/sessions/sessions");
const { addStaff, officeSignIn } = await import("@/identity/office/sessions");

const told = (made: readonly string[]): string => `\n${made.map((sql) => sql.slice(0, 3000)).join("\n")}`;
async function second(ask: () => Promise<unknown>): Promise<string[]> {
  nextRequest();
  await ask();
  nextRequest();
  return statementsOf(ask);
}
/** Whether anything has happened is asked anew by whoever kept something that it would change. */
const asksAnew = (sql: string): boolean => sql === 'SELECT max(id) FROM "sys_events"';
const repeated = (made: readonly string[]): string[] => [...new Set(made.filter((sql, i) => made.indexOf(sql) !== i && !asksAnew(sql)))];

const slug = "fernhill";
let file: NonNullable<ReturnType<typeof portalFile>>;
beforeAll(async () => {
  file = portalFile(slug)!;
  const dana = file.db.prepare("SELECT id FROM t_people WHERE f_person_name = 'Dana Achterberg'").pluck().get() as string;
  jar.set(`elkhorn_${file.id}`, startSession(file, dana, null, Date.now()));
  await addStaff("Rosalind", "rosalind@agency.example", "rosalind-keeps-the-keys", Date.now());
  const office = await officeSignIn("rosalind@agency.example", "rosalind-keeps-the-keys", { address: "here", device: null }, Date.now());
  if (office.ok) jar.set("elkhorn_office", office.value.token);
  head.set("x-elkhorn-base", "");
  head.set("x-elkhorn-portal", slug);
});

/** Pages of the portal, with the frame around them. */
async function portalPage(path: string, page: () => Promise<unknown>): Promise<string[]> {
  head.set("x-elkhorn-path", path);
  const { default: Layout } = await import("@/app/p/[portal]/layout");
  return second(async () => {
    await worked(Layout({ children: null, params: Promise.resolve({ portal: slug }) }));
    await worked(await page());
  });
}

/** At most so many, and none of them twice. */
function within(made: readonly string[], most: number): void {
  expect(made.length, told(made)).toBeLessThanOrEqual(most);
  expect(repeated(made)).toEqual([]);
}

it("home, with four figures, two charts and six lists: at most 16", async () => {
  const { default: Page } = await import("@/app/p/[portal]/page");
  const params = Promise.resolve({ portal: slug });
  within(await portalPage("/", async () => Page({ params, searchParams: Promise.resolve({}) })), 16);
});

it.each([
  ["signs", 10],
  ["projects", 8],
  ["requests", 10],
  ["invoices", 8],
])("the list of %s: at most %i", async (table, most) => {
  const { default: Page } = await import("@/app/p/[portal]/[table]/page");
  const params = Promise.resolve({ portal: slug, table });
  within(await portalPage(`/${table}`, async () => Page({ params, searchParams: Promise.resolve({}) })), most);
});

it("a board of requests in four columns: at most 11", async () => {
  const { default: Page } = await import("@/app/p/[portal]/[table]/page");
  const params = Promise.resolve({ portal: slug, table: "request-board" });
  within(await portalPage("/request-board", async () => Page({ params, searchParams: Promise.resolve({}) })), 11);
});

it("an order that is looked over before it is paid: at most 10", async () => {
  const { default: Page } = await import("@/app/p/[portal]/-/buy/page");
  const { published } = await import("@/data/definition/published");
  const { wantedQuery } = await import("@/features/pay/wanted");
  const { plans, prices } = published(file).definition;
  const price = prices.find((x) => plans.find((p) => p.id === x.plan)?.name === "Standard")!;
  const search = Promise.resolve({ ...wantedQuery({ kind: "plan", price: price.id, seats: 1 }) });
  within(await portalPage("/-/buy", async () => Page({ params: Promise.resolve({ portal: slug }), searchParams: search })), 10);
});

const OFFICE = {
  data: () => import("@/app/(office)/portals/[slug]/data/page"),
  people: () => import("@/app/(office)/portals/[slug]/people/page"),
  access: () => import("@/app/(office)/portals/[slug]/access/page"),
  pages: () => import("@/app/(office)/portals/[slug]/pages/page"),
  brand: () => import("@/app/(office)/portals/[slug]/brand/page"),
  plans: () => import("@/app/(office)/portals/[slug]/plans/page"),
  publish: () => import("@/app/(office)/portals/[slug]/publish/page"),
  log: () => import("@/app/(office)/portals/[slug]/log/page"),
};
it.each([
  ["data", 9],
  ["people", 16],
  ["access", 16],
  ["pages", 9],
  ["brand", 8],
  ["plans", 18],
  ["publish", 9],
  ["log", 12],
] as const)("the office's page of %s: at most %i", async (page, most) => {
  const { default: Layout } = await import("@/app/(office)/portals/[slug]/layout");
  const { default: Page } = await OFFICE[page]();
  const params = Promise.resolve({ slug });
  const made = await second(async () => {
    await worked(Layout({ children: null, params }));
    await worked((Page as (props: unknown) => unknown)({ params, searchParams: Promise.resolve({}) }));
  });
  within(made, most);
});

const formOf = (fields: Record<string, string>): FormData => {
  const data = new FormData();
  for (const [name, value] of Object.entries(fields)) data.append(name, value);
  return data;
};

vi.mock("next/navigation", () => ({
  redirect: (to: string) => {
    throw new Error(`redirect ${to}`);
  },
  notFound: () => {
    throw new Error("not found");
  },
}));
vi.mock("next/cache", () => ({ revalidatePath: () => {} }));

it("a request added in the portal: at most 15, of which 5 write", async () => {
  const { addInPortal } = await import("@/features/portal/door/actions");
  const { requestPortal } = await import("@/identity/requests/request");
  const { actingAs } = await import("@/features/portal/records/forms");
  head.set("x-elkhorn-path", "/requests/new");
  nextRequest();
  const r = (await requestPortal(slug))!;
  const table = r.desk.schema.tableBySlug("requests")!;
  const field = (of: string): string => table.fields.find((f) => f.slug === of)!.id;
  const add = (subject: string) => {
    const given = formOf({
      $table: "requests",
      $acting: actingAs(r),
      [field("subject")]: subject,
      [field("message")]: "At the east door.",
    });
    return addInPortal(NEW_FORM, given).catch((e: Error) => e.message);
  };
  nextRequest();
  expect(await add("One sign has come off")).toMatch(/^redirect [/]requests[/].*added=1$/);
  nextRequest();
  const made = await statementsOf(() => add("Another, too"));
  within(made, 15);
});

it("a grant saved: at most 10", async () => {
  const { saveGrant } = await import("@/features/access/actions");
  const { draftOf } = await import("@/data/definition/draft");
  const { testViewer } = await import("@/testing/world");
  const owner = testViewer({ kind: "owner", company: null }) as Owner;
  const draft = draftOf(file, owner);
  const [grant] = draft.definition.grants;
  const g = grant!;
  const save = (revision: number, fields: string[]) =>
    saveGrant(slug, {
      id: g.id,
      revision,
      table: g.table,
      roles: g.roles,
      actions: g.actions,
      fields,
      changes: g.changes.filter((f) => fields.includes(f)),
      namesOnly: [],
      acts: [],
      feature: g.feature ?? null,
      filter: { kind: "group", key: "x", join: "all", of: [] },
      validFrom: null,
      validUntil: null,
    });
  expect(await save(draft.revision, g.fields.slice(0, 1))).toEqual({ ok: true, revision: expect.any(Number) });
  nextRequest();
  const { revision } = draftOf(file, owner);
  const made = await statementsOf(() => save(revision, g.fields.slice(0, 2)));
  within(made, 10);
});
