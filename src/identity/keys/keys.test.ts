/** What a key opens, and what it never does: another company's records, more than its role, anything once it has ended. */
import { describe, expect, it } from "vitest";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { published, storePublished } from "@/data/definition/published";
import { setStatus } from "@/data/people/people";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { dropKey, type Key, keysOf, makeKey, type NewKey, openKey, opensNothing, setEnded } from "./keys";

const HERE = "203.0.113.9";
const NOW = Date.parse("2026-06-15T12:00:00Z");

function world() {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "projects", actions: ["see", "change"], changes: ["title"] },
      { roles: ["lead"], table: "signs", actions: ["see", "add"], changes: ["code", "project"] },
    ],
  });
  const projects = { One: p.project("One"), Two: p.project("Two") };
  const sign = p.add("signs", { code: "N1", project: projects.One });
  p.add("signs", { code: "N2", project: projects.Two });
  return { p, projects, sign };
}

const roleKey = (p: TestPortal, more: Partial<NewKey> = {}): NewKey => ({
  name: "Accounting",
  of: { kind: "role", role: "lead", company: p.company("One") },
  within: null,
  networks: [],
  perMinute: 600,
  tools: false,
  days: 30,
  ...more,
});
const open = (p: TestPortal, token: string, from = HERE, at = NOW) => openKey(p.file, token, from, p.owner.now, at);
function viewerOf(p: TestPortal, token: string): Viewer {
  const opened = open(p, token);
  if (opened.state !== "open") throw new Error(opened.state);
  return opened.viewer;
}
const codes = (p: TestPortal, viewer: Viewer): unknown[] => {
  const signs = p.table("signs");
  return p
    .desk(viewer)
    .list(signs, { limit: 10, search: "" })
    .records.map((r) => r.fields[signs.labelFieldId]);
};

describe("a key of a role", () => {
  it("sees what its role sees in its company, and nothing of another's", () => {
    const { p, projects } = world();
    const { token } = must(makeKey(p.file, p.owner, roleKey(p)));
    const viewer = viewerOf(p, token);
    expect([viewer.kind, viewer.person, viewer.company?.name]).toEqual(["key", null, "One"]);
    expect(codes(p, viewer)).toEqual(["N1"]);
    const desk = p.desk(viewer);
    expect(desk.read(p.table("projects"), projects.Two)).toBeUndefined();
    const changed = desk.change(p.table("projects"), projects.Two, p.values("projects", { title: "Taken" }), null);
    expect(changed.ok ? "changed" : changed.error.code).toBe("not-found");
    const added = desk.add(p.table("signs"), p.values("signs", { code: "N3", project: projects.Two }));
    expect(added.ok).toBe(false);
    must(desk.change(p.table("projects"), projects.One, p.values("projects", { title: "Ours" }), null));
    const row = p.file.db
      .prepare("SELECT actor_kind AS kind, actor_id AS id FROM sys_events WHERE act = 'record-changed' ORDER BY id DESC LIMIT 1")
      .get();
    expect(row).toEqual({ kind: "key", id: viewer.key!.id });
  });
  it("of the agency stands outside the walls, but for what no grant opens", () => {
    const { p } = world();
    const { definition } = published(p.file);
    const agency = definition.roles.find((r) => r.side === "agency")!;
    const { token } = must(makeKey(p.file, p.owner, roleKey(p, { of: { kind: "role", role: agency.id, company: null } })));
    expect(codes(p, viewerOf(p, token))).toEqual([]);
    const grants = definition.grants.map((g) => ({ ...g, roles: [...g.roles, agency.id] }));
    storePublished(p.file, { ...definition, grants }, PUBLISHER);
    expect(codes(p, viewerOf(p, token)).sort()).toEqual(["N1", "N2"]);
  });
  it("opens nothing once its role is gone, or its company", () => {
    const { p } = world();
    const { token, id } = must(makeKey(p.file, p.owner, roleKey(p)));
    const { definition } = published(p.file);
    const without = { ...definition, roles: definition.roles.filter((r) => r.id !== "lead"), grants: [] };
    storePublished(p.file, without, PUBLISHER);
    expect(open(p, token)).toEqual({ state: "nobody" });
    storePublished(p.file, definition, PUBLISHER);
    expect(open(p, token).state).toBe("open");
    p.file.db.prepare("UPDATE sys_keys SET company_id = 'gone' WHERE id = ?").run(id);
    expect(open(p, token)).toEqual({ state: "nobody" });
    expect(opensNothing(p.file, keysOf(p.file, p.owner)[0]!, p.owner.now)).toBe(true);
  });
  it("whose role changes sides opens nothing: what was a client's never becomes the agency's", () => {
    const { p } = world();
    const { token } = must(makeKey(p.file, p.owner, roleKey(p)));
    const { definition } = published(p.file);
    const roles = definition.roles.map((r) => (r.id === "lead" ? { ...r, side: "agency" as const } : r));
    storePublished(p.file, { ...definition, roles }, PUBLISHER);
    expect(open(p, token)).toEqual({ state: "nobody" });
  });
});

describe("a key of a person", () => {
  const made = () => {
    const w = world();
    const dana = w.p.person("Dana", "One", "lead").viewer;
    const of = { kind: "person", person: dana.person!.id, membership: dana.membershipId! } as const;
    return { ...w, dana, of, token: must(makeKey(w.p.file, w.p.owner, roleKey(w.p, { of }))).token };
  };
  it("does what they may, in their name, and they are told by mail", () => {
    const { p, dana, projects, token } = made();
    const viewer = viewerOf(p, token);
    expect([viewer.kind, viewer.person?.id]).toEqual(["person", dana.person!.id]);
    must(p.desk(viewer).change(p.table("projects"), projects.One, p.values("projects", { title: "Ours" }), null));
    expect(
      p.file.db
        .prepare("SELECT actor_kind AS kind, actor_id AS id FROM sys_events WHERE act = 'record-changed' ORDER BY id DESC LIMIT 1")
        .get(),
    ).toEqual({
      kind: "person",
      id: dana.person!.id,
    });
    expect(p.file.db.prepare("SELECT count(*) FROM sys_messages WHERE email = 'dana@t.example'").pluck().get()).toBe(1);
  });
  it("ends with their way in and with that membership; another membership of theirs is not taken instead", () => {
    const { p, dana, token } = made();
    setStatus(p.file, { kind: "system", id: null }, dana.person!.id, "inactive", p.owner.now);
    expect(open(p, token)).toEqual({ state: "nobody" });
    setStatus(p.file, { kind: "system", id: null }, dana.person!.id, "active", p.owner.now);
    expect(open(p, token).state).toBe("open");
    p.file.db.prepare("UPDATE sys_memberships SET id = 'another' WHERE person_id = ?").run(dana.person!.id);
    expect(open(p, token)).toEqual({ state: "nobody" });
  });
});

it("is kept to its tables and acts, whatever its role opens", () => {
  const { p, projects } = world();
  const { token } = must(makeKey(p.file, p.owner, roleKey(p, { within: { [p.table("signs").id]: ["see"] } })));
  const desk = p.desk(viewerOf(p, token));
  expect(codes(p, desk.viewer)).toEqual(["N1"]);
  expect([desk.may(p.table("signs"), "add"), desk.may(p.table("projects"), "see"), desk.known(p.table("projects"))]).toEqual([
    false,
    false,
    [],
  ]);
  const changed = desk.change(p.table("projects"), projects.One, p.values("projects", { title: "Ours" }), null);
  expect(changed.ok ? "changed" : changed.error.code).toBe("not-found");
  const added = desk.add(p.table("signs"), p.values("signs", { code: "N3", project: projects.One }));
  expect(added.ok ? "added" : added.error.code).toBe("not-allowed");
  // Beside a person who holds the role, with all of it: what is worked out for one is not handed to the other.
  const dana = p.person("Dana", "One", "lead");
  expect([dana.may(p.table("projects"), "see"), p.desk(viewerOf(p, token)).may(p.table("projects"), "see")]).toEqual([true, false]);
});

it("ends on its day, at once by hand, and is no key of another portal; only what ended is removed", () => {
  const { p } = world();
  const other = world().p;
  const { token, id } = must(makeKey(p.file, p.owner, roleKey(p)));
  expect(open(p, token, HERE, p.owner.now + 30 * 86_400_000 - 1).state).toBe("open");
  expect(open(p, token, HERE, p.owner.now + 30 * 86_400_000)).toEqual({ state: "ended" });
  expect([open(other, token), open(p, `${token}x`), open(p, token.slice(0, -1)), open(p, "")]).toEqual(Array(4).fill({ state: "unknown" }));
  expect(dropKey(p.file, p.owner, id)).toBe(false);
  expect([setEnded(p.file, p.owner, id, true), setEnded(p.file, p.owner, id, true), open(p, token).state]).toEqual([true, false, "ended"]);
  expect([setEnded(p.file, p.owner, id, false), open(p, token).state]).toEqual([true, "open"]);
  setEnded(p.file, p.owner, id, true);
  expect([dropKey(p.file, p.owner, id), keysOf(p.file, p.owner)]).toEqual([true, []]);
});

it("comes from its networks alone, and says when and from where it came last", () => {
  const { p } = world();
  const { token } = must(makeKey(p.file, p.owner, roleKey(p, { networks: ["192.0.2.0/24", "2001:db8::/48"] })));
  expect(["192.0.2.77", "2001:db8:0:5::/64"].map((from) => open(p, token, from).state)).toEqual(["open", "open"]);
  expect([HERE, "unclear", "unknown", "2001:db9:0:5::/64"].map((from) => open(p, token, from).state)).toEqual(Array(4).fill("elsewhere"));
  const [key] = keysOf(p.file, p.owner) as [Key];
  expect([key.lastFrom, key.lastAt]).toEqual(["2001:db8:0:5::/64", NOW]);
});

it("is kept by its hash alone", () => {
  const { p } = world();
  const { token } = must(makeKey(p.file, p.owner, roleKey(p)));
  const all = JSON.stringify([
    p.file.db.prepare("SELECT * FROM sys_keys").all(),
    p.file.db.prepare("SELECT * FROM sys_events LEFT JOIN sys_event_values ON event_id = id").all(),
  ]);
  expect(all).not.toContain(token.slice(14));
});

it.each<[string, (p: TestPortal) => Partial<NewKey>]>([
  ["name", () => ({ name: "  " })],
  ["perMinute", () => ({ perMinute: 0 })],
  ["perMinute", () => ({ perMinute: Number.NaN })],
  ["days", () => ({ days: 2_000 })],
  ["days", () => ({ days: 1.5 })],
  ["of", () => ({ of: { kind: "role", role: "never", company: null } })],
  ["of", () => ({ of: { kind: "role", role: "lead", company: null } })],
  ["of", () => ({ of: { kind: "role", role: "lead", company: "never" } })],
  [
    "of",
    (p) => ({ of: { kind: "role", role: published(p.file).definition.roles.find((r) => r.side === "visitor")?.id ?? "", company: null } }),
  ],
  [
    "of",
    (p) => ({
      of: { kind: "role", role: published(p.file).definition.roles.find((r) => r.side === "agency")!.id, company: p.company("One") },
    }),
  ],
  ["of", () => ({ of: { kind: "person", person: "never", membership: "never" } })],
  ["within", () => ({ within: {} })],
  ["within", () => ({ within: { t_999: ["see"] } })],
])("a new one without a right %s is refused", (field, wrong) => {
  const { p } = world();
  const made = makeKey(p.file, p.owner as Owner, roleKey(p, wrong(p)));
  expect(made.ok ? "made" : made.error.field).toBe(field);
  expect(keysOf(p.file, p.owner)).toEqual([]);
});
