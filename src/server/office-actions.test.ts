/** What the office's actions do and refuse, called as their pages call them: one room after another, in one portal. */
import { beforeAll, describe, expect, it, vi } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Result } from "@/core/result";
import { ownFolder } from "@/testing/folder";
import { head, jar, nextRequest } from "@/testing/requests";
import { type FormState, NEW_FORM } from "@/ui/forms/form";

vi.mock("next/headers", async () => (await import("@/testing/requests")).playedHeaders());
vi.mock("react", async (real) => ({ ...(await real<typeof import("react")>()), cache: (await import("@/testing/requests")).memoized }));
vi.mock("next/cache", () => ({ revalidatePath: () => {} }));
vi.mock("next/navigation", () => ({
  redirect: (to: string) => {
    throw new Error(`redirect ${to}`);
  },
  notFound: () => {
    throw new Error("not found");
  },
}));

ownFolder();
const { createPortal } = await import("@/data/installation/portals");
const { makeTestSchema, PUBLISHER, testViewer } = await import("@/testing/world");
const { addCompany, membershipsOf, personFacts, personIdByEmail } = await import("@/data/people/people");
const { addStaff, officeSignIn } = await import("@/identity/office/sessions");
const { draftOf } = await import("@/data/definition/draft");
const { schemaOf } = await import("@/data/tables/read");
const people = await import("@/features/people/actions");
const access = await import("@/features/access/actions");
const roles = await import("@/features/access/roles");
const pages = await import("@/features/pages/actions");
const plans = await import("@/features/plans/actions");
const shaping = await import("@/features/data/shaping");
const cells = await import("@/features/data/actions");
const log = await import("@/features/log/actions");
const { stepDraft } = await import("@/office/actions");

const must = <T, E>(r: Result<T, E>): T => {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
};
const at = "tried";
const owner = testViewer({ kind: "owner", company: null }) as Owner;
const open = () => {
  const made = createPortal(at, "Office", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  return made.file;
};
let file: ReturnType<typeof open>;
let company = "";
beforeAll(async () => {
  file = open();
  makeTestSchema(file, false);
  company = must(addCompany(file, owner, "One")).id;
  await addStaff("Rosalind", "rosalind@agency.example", "rosalind-keeps-the-keys", Date.now());
  const office = await officeSignIn("rosalind@agency.example", "rosalind-keeps-the-keys", { address: "here", device: null }, Date.now());
  if (office.ok) jar.set("elkhorn_office", office.value.token);
  head.set("sec-fetch-site", "same-origin");
});

/** Each is a request of its own. */
function ask<T>(act: () => Promise<T>): Promise<T> {
  nextRequest();
  return act();
}
function form(fields: Record<string, string | string[]>): FormData {
  const data = new FormData();
  for (const [name, values] of Object.entries(fields)) for (const v of [values].flat()) data.append(name, v);
  return data;
}
const sent = (
  action: (slug: string, before: FormState, data: FormData) => Promise<FormState>,
  fields: Record<string, string | string[]>,
): Promise<FormState> => ask(() => action(at, NEW_FORM, form(fields)));
const draft = () => draftOf(file, owner);
const table = (slug: string) => schemaOf(file).tableBySlug(slug)!;
const field = (of: string, slug: string) => table(of).fields.find((f) => f.slug === slug)!;

describe("people", () => {
  it("a company wants a name of its own; what was typed is given back", async () => {
    expect(await sent(people.addCompanyForm, { name: "  " })).toMatchObject({ errors: { name: expect.any(String) } });
    const long = "x".repeat(500);
    expect(await sent(people.addCompanyForm, { name: long })).toMatchObject({
      errors: { name: expect.any(String) },
      values: { name: long },
    });
    expect(await sent(people.addCompanyForm, { name: "Two" })).toMatchObject({ errors: {}, done: "The company has been added." });
  });

  it("a person wants an address, a company and, where one is set, the same password twice", async () => {
    const dana = { name: "Dana", email: "dana@one.example", company, roles: ["lead"] };
    expect((await sent(people.addPersonForm, { ...dana, name: "" })).errors).toEqual({ name: "Give the person a name." });
    expect((await sent(people.addPersonForm, { ...dana, email: "" })).errors).toEqual({ email: "Write their e-mail address." });
    expect((await sent(people.addPersonForm, { ...dana, company: "" })).errors).toHaveProperty("company");
    expect((await sent(people.addPersonForm, { ...dana, signInName: "dana" })).errors).toHaveProperty("signInName");
    const differ = await sent(people.addPersonForm, { ...dana, password: "a-long-password-of-hers", again: "another-long-password" });
    expect(differ.errors).toEqual({ again: "The two passwords differ. Type it the same twice." });
    expect(differ.values).not.toHaveProperty("password");
    expect((await sent(people.addPersonForm, { ...dana, password: "short", again: "short" })).errors).toHaveProperty("password");
    expect(personIdByEmail(file, "dana@one.example")).toBeUndefined();
    expect(await sent(people.addPersonForm, dana)).toMatchObject({ errors: {}, done: "Dana has been added. Nobody is told yet." });
    expect((await sent(people.addPersonForm, dana)).errors).toHaveProperty("email");
  });

  it("a membership that is ended can be given back, unless there is another there meanwhile", async () => {
    const dana = personIdByEmail(file, "dana@one.example")!;
    const [one] = membershipsOf(file, dana);
    const ended = await ask(() => people.endMembership(at, dana, one!.id));
    expect(ended).toMatchObject({ ok: true });
    expect(await ask(() => people.endMembership(at, dana, one!.id))).toMatchObject({ ok: false });
    const undo = ended.ok ? ended.undo : "";
    expect(await ask(() => people.giveBackMembership(at, dana, "{"))).toMatchObject({ ok: false });
    expect(await ask(() => people.giveBackMembership(at, "nobody", undo))).toMatchObject({ ok: false });
    expect(await ask(() => people.giveBackMembership(at, dana, undo))).toEqual({ ok: true });
    expect(membershipsOf(file, dana).map((m) => [m.companyId, m.roles])).toEqual([[company, ["lead"]]]);
    expect(await ask(() => people.giveBackMembership(at, dana, undo))).toMatchObject({
      ok: false,
      messages: [expect.stringContaining("meanwhile")],
    });
  });

  it("a status is one of two, and of somebody who is here", async () => {
    const dana = personIdByEmail(file, "dana@one.example")!;
    await ask(() => people.changeStatus(at, dana, "inactive"));
    expect(personFacts(file, dana)?.status).toBe("inactive");
    await expect(ask(() => people.changeStatus(at, dana, "owner" as "active"))).rejects.toThrow("could not be read");
    await ask(() => people.changeStatus(at, "nobody", "active"));
    expect(personFacts(file, dana)?.status).toBe("inactive");
  });

  it("a last day is a day; an invitation that is not open cannot be withdrawn", async () => {
    const dana = personIdByEmail(file, "dana@one.example")!;
    const keep = (until: string) => ask(() => people.keepUntil(at, dana, NEW_FORM, form({ until })));
    expect((await keep("31 December")).errors).toHaveProperty("until");
    expect(await keep("2030-12-31")).toMatchObject({ errors: {} });
    expect(await keep("")).toMatchObject({ errors: {}, done: "Kept. There is no last day." });
    expect(await ask(() => people.withdrawInvitation(at, dana))).toMatchObject({ ok: false });
    expect(await ask(() => people.giveInvitationBack(at, dana))).toMatchObject({ ok: false });
  });
});

describe("access", () => {
  const grant = (more: object = {}) => ({
    id: null,
    revision: draft().revision,
    table: table("signs").id,
    roles: ["lead"],
    actions: ["see" as const],
    fields: [field("signs", "code").id],
    changes: [],
    namesOnly: [],
    acts: [],
    feature: null,
    filter: { kind: "group" as const, key: "1", join: "all" as const, of: [] },
    validFrom: null,
    validUntil: null,
    ...more,
  });

  it("a grant is added, removed and given back; one of a table that is gone is not", async () => {
    expect(await ask(() => access.saveGrant(at, grant()))).toMatchObject({ ok: true });
    const [added] = draft().definition.grants.slice(-1);
    expect(added?.roles).toEqual(["lead"]);
    expect(await ask(() => access.saveGrant(at, grant({ table: "t_none" })))).toMatchObject({ ok: false });
    const removed = await ask(() => access.removeGrant(at, added!.id, draft().revision));
    expect(removed).toMatchObject({ ok: true });
    expect(draft().definition.grants.map((g) => g.id)).not.toContain(added!.id);
    expect(await ask(() => access.restoreGrant(at, "not JSON"))).toMatchObject({ ok: false });
    expect(await ask(() => access.restoreGrant(at, removed.ok ? removed.undo : ""))).toMatchObject({ ok: true });
    expect(draft().definition.grants.slice(-1)).toEqual([added]);
  });

  it("a filter that is nested without end is refused before anything reads it", async () => {
    let deep: object = { kind: "group", key: "x", join: "all", of: [] };
    for (let n = 0; n < 5_000; n++) deep = { kind: "group", key: "x", join: "all", of: [deep] };
    const answer = await ask(() => access.saveGrant(at, grant({ filter: deep }) as never));
    expect(answer).toMatchObject({ ok: false, messages: ["Groups may be nested eight deep, no deeper."] });
  });

  it("two who change the same grant: the later is told, and nothing is written over", async () => {
    const seen = draft().revision;
    const [one] = draft().definition.grants.slice(-1);
    const as = (actions: ("see" | "export")[]) => access.saveGrant(at, grant({ id: one!.id, revision: seen, actions }));
    expect(await ask(() => as(["see", "export"]))).toMatchObject({ ok: true });
    expect(await ask(() => as(["see"]))).toMatchObject({ ok: false, stale: true });
    expect(draft().definition.grants.slice(-1)[0]!.actions).toEqual(["see", "export"]);
  });

  it("a role wants a name that no other has, and no ring of roles", async () => {
    const role = (more: object) => ({
      id: null,
      revision: draft().revision,
      name: "Foreman",
      side: "client" as const,
      includes: [],
      companyId: null,
      about: "",
      ...more,
    });
    expect(await ask(() => roles.saveRole(at, role({ name: "" })))).toMatchObject({ ok: false, errors: { name: expect.any(String) } });
    expect(await ask(() => roles.saveRole(at, role({})))).toMatchObject({ ok: true });
    expect(await ask(() => roles.saveRole(at, role({ name: "FOREMAN" })))).toMatchObject({
      ok: false,
      errors: { name: expect.stringContaining("already") },
    });
    const made = draft().definition.roles.find((r) => r.name === "Foreman")!;
    const ring = await ask(() => roles.saveRole(at, role({ id: made.id, includes: [made.id] })));
    expect(ring).toMatchObject({ ok: false, errors: { includes: expect.any(String) } });
  });
});

describe("pages and plans", () => {
  it("a page wants a name; a step back takes it away again", async () => {
    expect(await ask(() => pages.makePage(at, draft().revision, { name: " ", about: null }))).toMatchObject({
      ok: false,
      messages: ["Give the page a name."],
    });
    const made = await ask(() => pages.makePage(at, draft().revision, { name: "Prices", about: null }));
    expect(made).toMatchObject({ ok: true, id: expect.stringMatching(/^p-/) });
    const there = () => draft().definition.pages.some((p) => p.name === "Prices");
    expect(there()).toBe(true);
    expect(await ask(() => stepDraft(at, draft().revision, -1, ["pages"]))).toMatchObject({ ok: true });
    expect(there()).toBe(false);
  });

  it("an entry of the menu leads to a page, to an address that is one, or holds others", async () => {
    const add = (input: Parameters<typeof pages.addEntry>[2]) => ask(() => pages.addEntry(at, draft().revision, input));
    expect(await add({ name: "Help", address: "javascript:alert(1)" })).toMatchObject({ ok: false });
    expect(await add({ name: "", group: true })).toMatchObject({ ok: false });
    expect(await add({ name: "Help", address: "https://help.example/" })).toMatchObject({ ok: true });
    expect(draft().definition.navigation.slice(-1)[0]).toMatchObject({ name: "Help", leads: { to: "address" } });
  });

  it("a passphrase has six signs, and its words are kept nowhere", async () => {
    const made = await ask(() => pages.makePage(at, draft().revision, { name: "Closed", about: null }));
    const id = "id" in made ? made.id! : "";
    const keep = (words: string | null) => ask(() => pages.keepPassphrase(at, draft().revision, id, words));
    expect(await keep("short")).toMatchObject({ ok: false, messages: ["Use at least six signs."] });
    expect(await keep("open the small door")).toMatchObject({ ok: true });
    expect(JSON.stringify(draft().definition)).not.toContain("open the small door");
    expect(await ask(() => pages.keepPassphrase(at, draft().revision, "p-none", "open the small door"))).toMatchObject({ ok: false });
  });

  it("an amount is read as it is written, and a price wants one", async () => {
    const plan = { id: null, name: "Basic", about: "", features: [], allowances: [], seats: null, offered: "all" as const };
    expect(await ask(() => plans.savePlan(at, draft().revision, plan))).toMatchObject({ ok: true });
    const made = draft().definition.plans.find((p) => p.name === "Basic")!;
    const price = { plan: made.id, cycle: "month" as const, per: "company" as const, least: 1, setup: "", trialDays: 0 };
    const add = (amount: string) => ask(() => plans.addPrice(at, draft().revision, { ...price, amount }));
    expect(await add("")).toMatchObject({ ok: false, messages: ["Write an amount."] });
    expect(await add("ten pounds")).toMatchObject({ ok: false });
    expect(await add("1.005")).toMatchObject({ ok: false });
    expect(await add("12.50")).toMatchObject({ ok: true });
    expect(draft().definition.prices.map((p) => [p.plan, p.amount])).toEqual([[made.id, 1250]]);
    expect(await ask(() => plans.dropPlan(at, draft().revision, made.id))).toMatchObject({ ok: true });
    expect(draft().definition.prices).toEqual([]);
  });

  it("a feature that something needs stays", async () => {
    expect(await ask(() => plans.saveFeature(at, draft().revision, { id: null, name: "Photographs" }))).toMatchObject({ ok: true });
    const { id } = draft().definition.features.find((f) => f.name === "Photographs")!;
    const [g] = draft().definition.grants.slice(-1);
    const needing = { ...g!, feature: id };
    expect(await ask(() => access.restoreGrant(at, JSON.stringify(needing)))).toMatchObject({ ok: true });
    expect(await ask(() => plans.dropFeature(at, draft().revision, id))).toMatchObject({
      ok: false,
      messages: [expect.stringContaining("a grant")],
    });
  });
});

describe("data", () => {
  it("a field wants a type and a name; a bound is read as the field reads it", async () => {
    const add = (fields: Record<string, string>) =>
      ask(() => shaping.makeField(at, table("signs").id, NEW_FORM, form({ name: "Height", ...fields })));
    expect((await add({ type: "shape" })).errors).toEqual({ type: "Choose what it holds." });
    expect((await add({ type: "number", name: "" })).errors).toHaveProperty("name");
    expect(await add({ type: "number", decimals: "1" })).toMatchObject({ errors: {}, done: "Height is added." });
    const height = field("signs", "height");
    const keep = (more: Record<string, string>) =>
      ask(() => shaping.keepField(at, height.id, "", NEW_FORM, form({ name: "Height", ...more })));
    expect((await keep({ least: "low", longest: "1.5" })).errors).toEqual({
      least: expect.any(String),
      longest: "Write a whole number.",
    });
  });

  it("a cell that somebody changed meanwhile is not written over, and says what is there now", async () => {
    const { Desk } = await import("@/data/records/desk");
    const { published } = await import("@/data/definition/published");
    const desk = new Desk(file, published(file).policy, owner);
    const signs = table("signs");
    const code = field("signs", "code");
    const { id } = must(desk.add(signs, { [code.id]: "N1" }));
    const change = (texts: string[], seen: string) =>
      ask(() => cells.changeCell(at, { table: signs.id, record: id, field: code.id, texts, seen }));
    const { etagOf } = await import("@/data/records/write/write");
    const seen = etagOf(desk.read(signs, id)!);
    expect(await change(["N2"], seen)).toMatchObject({ ok: true, value: "N2" });
    expect(await change(["N3"], seen)).toMatchObject({ ok: false, now: { value: "N2" } });
    expect(await change(["x".repeat(3_000_000)], seen)).toMatchObject({ ok: false });
    expect(desk.read(signs, id)!.fields[code.id]).toBe("N2");
    await expect(ask(() => cells.relationChoices(at, code.id, "x".repeat(3_000_000)))).rejects.toThrow();
  });
});

it("the log is kept for one of the ages that there are", async () => {
  const keep = (months: string) => sent(log.changeLogAge, { months });
  expect((await keep("1")).errors).toHaveProperty("months");
  expect(await keep("60")).toMatchObject({ errors: {}, done: "Saved." });
  const { logAge } = await import("@/data/log/thin");
  expect(logAge(file)).toBe(60);
});
