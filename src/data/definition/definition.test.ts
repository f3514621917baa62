import { beforeEach, describe, expect, it } from "vitest";
import { EVERYONE } from "@/core/access/rules";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { system } from "@/core/events/event";
import { MADE, makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { setSubscription, standingOf } from "../billing/standing";
import type { PortalFile } from "../file/open";
import { emptyDefinition } from "../installation/portals";
import {
  addCompany,
  addMembership,
  addPerson,
  membershipsOf,
  personFacts,
  personIdByEmail,
  removeMembership,
  setStatus,
} from "../people/people";
import { publish, uphold } from "../publishing/publish";
import { schemaOf } from "../tables/read";
import { insertRow } from "../tables/store";
import { changeDraft, discardDraft, draftOf } from "./draft";
import { definitionOf, published, storePublished } from "./published";
import { draftMoves, moveDraft } from "./versions";

const owner = testViewer({ kind: "owner", company: null }) as Owner;
const BY = { actor: system("test"), via: "job", at: 0 } as const;
let file: PortalFile;
let t: ReturnType<typeof makeTestSchema>["t"];
const id = (table: string, slug: string): string =>
  schemaOf(file)
    .tableBySlug(table)!
    .fields.find((f) => f.slug === slug)!.id;

beforeEach(() => {
  file = memoryPortal();
  ({ t } = makeTestSchema(file));
  storePublished(file, emptyDefinition("Test"), PUBLISHER);
});

const checked = () => uphold(draftOf(file, owner), new Set())!;

const wallSites = (d: Definition): Definition => ({
  ...d,
  walls: { ...d.walls, [t.sites]: { kind: "owned", path: [id("sites", "company")] } },
});

describe("draft and published", () => {
  it("a draft holds for nobody until it is published", () => {
    const changed = changeDraft(file, owner, 0, wallSites);
    expect(changed.ok).toBe(true);
    expect(draftOf(file, owner).changed).toBe(true);
    expect(published(file).policy.wall(t.sites)).toEqual({ kind: "agency-only" });
    expect(publish(file, owner, checked())).toEqual({ ok: true, value: { version: 2 } });
    expect(published(file).policy.wall(t.sites).kind).toBe("owned");
    expect(draftOf(file, owner)).toMatchObject({ changed: false, revision: 0 });
  });

  it("two editors do not overwrite each other", () => {
    const { revision } = draftOf(file, owner);
    const before = checked();
    expect(changeDraft(file, owner, revision, wallSites).ok).toBe(true);
    const shared = (d: Definition): Definition => ({ ...d, walls: { ...d.walls, [t.sites]: { kind: "shared" } } });
    expect(changeDraft(file, owner, revision, shared)).toEqual({ ok: false, error: { code: "stale" } });
    expect(draftOf(file, owner).definition.walls[t.sites]!.kind).toBe("owned");
    expect(publish(file, owner, before)).toEqual({ ok: false, error: { code: "stale" } });
  });

  it("two who change different things from one page both have their way, and neither undoes the other", () => {
    const role = { id: "guest", name: "Guest", side: "client" as const, includes: [] };
    const { revision } = draftOf(file, owner);
    expect(changeDraft(file, owner, revision, wallSites, "the wall").ok).toBe(true);
    expect(changeDraft(file, owner, revision, (d) => ({ ...d, roles: [...d.roles, role] }), "a role").ok).toBe(true);
    expect(changeDraft(file, owner, revision, (d) => ({ ...d, brand: { ...d.brand, motto: "Signs" } }), "the motto").ok).toBe(true);
    const both = draftOf(file, owner);
    expect(both.definition.walls[t.sites]!.kind).toBe("owned");
    expect(both.definition.roles.map((r) => r.id)).toContain("guest");
    expect(both.definition.brand.motto).toBe("Signs");
    // The access room's undo leaves the brand alone, though that was changed last.
    expect(draftMoves(file, owner, ["access"])).toEqual({ undo: "a role", redo: null });
    expect(moveDraft(file, owner, both.revision, -1, ["access"]).ok).toBe(true);
    expect(draftOf(file, owner).definition.roles.map((r) => r.id)).not.toContain("guest");
    expect(draftOf(file, owner).definition.brand.motto).toBe("Signs");
    expect(draftMoves(file, owner, ["access"])).toEqual({ undo: "the wall", redo: "a role" });
    // A change from a page that was opened before the undo is put beside it, too.
    expect(changeDraft(file, owner, both.revision, (d) => ({ ...d, brand: { ...d.brand, motto: "More" } })).ok).toBe(true);
    expect(draftOf(file, owner).definition.roles.map((r) => r.id)).not.toContain("guest");
  });

  it("the later change of the same thing is told, and what the first one did stays", () => {
    const { revision } = draftOf(file, owner);
    const motto = (m: string) => (d: Definition) => ({ ...d, brand: { ...d.brand, motto: m } });
    expect(changeDraft(file, owner, revision, motto("first")).ok).toBe(true);
    expect(changeDraft(file, owner, revision, motto("second"))).toEqual({ ok: false, error: { code: "stale" } });
    expect(draftOf(file, owner).definition.brand.motto).toBe("first");
  });

  it("what would be wrong is refused with sentences, and the draft stays as it was", () => {
    const bad = changeDraft(file, owner, 0, (d) => ({ ...d, walls: { ...d.walls, [t.sites]: { kind: "owned", path: [] } } }));
    expect(bad).toEqual({ ok: false, error: { code: "invalid", messages: ["The wall of Sites does not lead to a company."] } });
    expect(draftOf(file, owner).changed).toBe(false);
  });

  it("a role given to somebody while the draft retires it waits for them to have another", () => {
    const roles: Definition["roles"] = [{ id: "lead", name: "Lead", side: "client", includes: [], companyId: null, about: "" }];
    storePublished(file, { ...emptyDefinition("Test"), roles }, PUBLISHER);
    expect(changeDraft(file, owner, 0, (d) => ({ ...d, roles: [] })).ok).toBe(true);
    const company = addCompany(file, owner, "One");
    const person = addPerson(file, owner, { name: "Dana", email: "dana@one.example", memberships: [] });
    if (!company.ok || !person.ok) throw new Error();
    const given = addMembership(file, owner, person.value.id, company.value.id, ["lead"]);
    const refused = publish(file, owner, checked());
    expect(refused).toMatchObject({ error: { code: "invalid", messages: [expect.stringContaining("One person holds the role Lead")] } });
    expect(published(file).definition.roles).toHaveLength(1);
    if (!given.ok) throw new Error();
    removeMembership(file, owner, person.value.id, membershipsOf(file, person.value.id)[0]!.id);
    expect(publish(file, owner, checked()).ok).toBe(true);
  });

  it("publishing a wall works out the company of records that were there before", () => {
    const company = addCompany(file, owner, "One");
    if (!company.ok) throw new Error();
    insertRow(file, schemaOf(file).table(t.sites), "s1", { [id("sites", "name")]: "S", [id("sites", "company")]: company.value.id }, MADE);
    const kept = () => file.db.prepare(`SELECT company_id FROM "${t.sites}"`).pluck().get();
    expect(kept()).toBeNull();
    changeDraft(file, owner, 0, wallSites);
    publish(file, owner, checked());
    expect(kept()).toBe(company.value.id);
    changeDraft(file, owner, 0, (d) => ({ ...d, walls: { ...d.walls, [t.sites]: { kind: "agency-only" } } }));
    publish(file, owner, checked());
    expect(kept()).toBeNull();
  });

  it("a draft is published only with word that each of its safeguards holds, and that word is for one draft", () => {
    const s = { id: "s1", subject: { kind: "side", side: "visitor" }, table: t.sites, claim: { kind: "nothing", action: "see" } } as const;
    changeDraft(file, owner, 0, (d) => ({ ...d, safeguards: [s] }));
    const draft = draftOf(file, owner);
    expect(uphold(draft, new Set())).toBeNull();
    expect(uphold(draft, new Set(["s2"]))).toBeNull();
    const word = uphold(draft, new Set(["s1"]))!;
    changeDraft(file, owner, draft.revision, (d) => ({ ...d, safeguards: [s, { ...s, id: "s2" }] }));
    expect(publish(file, owner, word)).toEqual({ ok: false, error: { code: "stale" } });
    expect(publish(file, owner, uphold(draftOf(file, owner), new Set(["s1", "s2"]))!).ok).toBe(true);
    expect(published(file).definition.safeguards).toHaveLength(2);
  });

  it("a version from before there were safeguards is read as having none", () => {
    const { safeguards: _, acts: __, ...old } = emptyDefinition("Old");
    const roles = old.roles.filter((r) => r.id !== EVERYONE);
    // As it was stored then: undivided, and without the number of a format.
    file.db.prepare("UPDATE sys_definitions SET body = ?").run(JSON.stringify({ ...old, roles, portal: { ...old.portal, name: "Old" } }));
    file.meta.set("definition_version", "1");
    expect(definitionOf(file, 1)).toMatchObject({ ok: true, value: { portal: { name: "Old" }, safeguards: [], acts: [] } });
    expect(definitionOf(file, 1)).toMatchObject({ value: { roles: expect.arrayContaining([expect.objectContaining({ id: EVERYONE })]) } });
    expect(published(file).definition.safeguards).toEqual([]);
    expect(draftOf(file, owner).changed).toBe(false);
  });

  it("a draft may be thrown away", () => {
    changeDraft(file, owner, 0, wallSites);
    expect(draftOf(file, owner).changed).toBe(true);
    discardDraft(file, owner);
    expect(draftOf(file, owner)).toMatchObject({ changed: false, revision: 0 });
  });
});

describe("people and companies", () => {
  const company = (name: string): string => {
    const c = addCompany(file, owner, name);
    if (!c.ok) throw new Error(c.error.message);
    return c.value.id;
  };

  it("companies have one name each, without regard to case, and readable addresses in any script", () => {
    const first = addCompany(file, owner, "  Éclair & Sons ");
    expect(first.ok && first.value.slug).toBe("eclair-and-sons");
    expect(addCompany(file, owner, "éCLAIR & sons")).toMatchObject({ ok: false, error: { field: "name" } });
    const fallback = addCompany(file, owner, "日本");
    expect(fallback.ok && fallback.value.slug).toMatch(/^[a-z0-9-]+$/);
    expect(addCompany(file, owner, " ")).toMatchObject({ ok: false, error: { message: "Give the company a name." } });
    expect(addCompany(file, owner, "x".repeat(200))).toMatchObject({ ok: false });
  });

  it.each(["plain", "a@", "@b.example", "a b@c.example", "a@b@c.example", "a@-x.example", `${"x".repeat(250)}@c.example`])(
    "%s is no e-mail address",
    (email) => {
      expect(addPerson(file, owner, { name: "P", email, memberships: [] })).toMatchObject({ ok: false, error: { field: "email" } });
    },
  );

  it("an address is one person's in the portal, without regard to case", () => {
    expect(addPerson(file, owner, { name: "P", email: "Pat@X.example", memberships: [] }).ok).toBe(true);
    expect(addPerson(file, owner, { name: "Q", email: "pat@x.example", memberships: [] })).toMatchObject({
      ok: false,
      error: { field: "email" },
    });
    expect(personIdByEmail(file, " PAT@x.EXAMPLE ")).toBeDefined();
  });

  it("nothing stays of a person whose membership is refused", () => {
    const c = company("One");
    for (const roles of [[], ["staff"], ["nobody"]]) {
      expect(addPerson(file, owner, { name: "P", email: "p@x.example", memberships: [{ companyId: c, roles }] })).toMatchObject({
        ok: false,
        error: { field: "roles" },
      });
    }
    expect(
      addPerson(file, owner, { name: "P", email: "p@x.example", memberships: [{ companyId: "never", roles: ["lead"] }] }),
    ).toMatchObject({
      ok: false,
      error: { field: "company" },
    });
    expect(personIdByEmail(file, "p@x.example")).toBeUndefined();
  });

  it("memberships are one a company; ending one leaves the others", () => {
    const [one, two] = [company("One"), company("Two")];
    const p = addPerson(file, owner, { name: "P", email: "p@x.example", memberships: [{ companyId: one, roles: ["lead"] }] });
    if (!p.ok) throw new Error();
    expect(addMembership(file, owner, p.value.id, two, ["lead"]).ok).toBe(true);
    expect(addMembership(file, owner, p.value.id, one, ["lead"]).ok).toBe(true);
    const all = membershipsOf(file, p.value.id);
    expect(all.map((m) => m.companyName)).toEqual(["One", "Two"]);
    expect(removeMembership(file, owner, p.value.id, all[0]!.id)).toEqual({ companyId: one, roles: ["lead"] });
    expect(removeMembership(file, owner, p.value.id, all[0]!.id)).toBeNull(); // gone already
    expect(removeMembership(file, owner, "somebody else", all[1]!.id)).toBeNull(); // not theirs
    expect(membershipsOf(file, p.value.id).map((m) => m.companyName)).toEqual(["Two"]);
    setStatus(file, system("test"), p.value.id, "expired", 0);
    expect(personFacts(file, p.value.id)?.status).toBe("expired");
  });
});

describe("standing: what a company has paid for", () => {
  const plans: Definition["plans"] = [
    { id: "basic", name: "Basic", about: "", seats: null, offered: "all" as const, features: ["portal"], allowances: [] },
  ];
  it.each([
    ["active", null, "active", true],
    ["trial", "2026-06-15", "trial", true],
    ["trial", "2026-06-14", "lapsed", false],
    ["grace", "2026-06-20", "grace", true],
    ["grace", "2026-06-01", "lapsed", false],
    ["lapsed", null, "lapsed", false],
  ] as const)("%s until %s is %s on 2026-06-15", (state, until, wanted, open) => {
    const definition = { ...emptyDefinition("T"), plans, features: [{ id: "portal", name: "the portal" }] };
    setSubscription(file, "c1", { plan: "basic", state, until, timeZone: "UTC" }, BY);
    const s = standingOf(file, definition, "c1", "2026-06-15");
    expect([s.state, s.features.has("portal")]).toEqual([wanted, open]);
  });
  it("no subscription, or a plan that is gone, gives nothing", () => {
    expect(standingOf(file, emptyDefinition("T"), "c1", "2026-06-15")).toMatchObject({ state: "none", plan: null });
    setSubscription(file, "c1", { plan: "gone", state: "active", until: null, timeZone: "UTC" }, BY);
    expect(standingOf(file, emptyDefinition("T"), "c1", "2026-06-15").features.size).toBe(0);
  });
});
