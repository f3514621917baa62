/** Access against published models of access control. */
import { describe, expect, it } from "vitest";
import { testViewer } from "@/testing/world";
import { assignedUsers, authorizedUsers, rolePermissions } from "../review/held-roles";
import { Schema, type Table } from "../schema/types";
import { decide } from "./decide";
import { Policy } from "./policy";
import type { Row, World } from "./row";
import { type Role, roleCycles, type Wall } from "./rules";
import { activeRoles, scope } from "./scope";

const table = (id: string, kind: Table["kind"] = "ordinary"): Table => ({
  id,
  slug: id,
  name: id,
  singular: id,
  kind,
  labelFieldId: `${id}_n`,
  fields: [
    { id: `${id}_n`, tableId: id, slug: "n", name: "N", type: "text", options: {}, system: false },
    { id: `${id}_c`, tableId: id, slug: "c", name: "C", type: "relation", options: { target: "t_companies" }, system: false },
  ],
});
const schema = new Schema(1, [table("t_companies", "companies"), table("t_people", "people"), table("t_1")]);
const role = (id: string, includes: string[] = [], more: Partial<Role> = {}): Role => ({ id, name: id, side: "client", includes, ...more });
const row = (companyId: string | null): Row => ({ id: "r", table: "t_1", companyId, values: { t_1_n: "x" } });
const world: World = { row: () => undefined };

describe("OASIS XACML 3.0, appendix C, as far as it applies", () => {
  // C.4 permit-overrides over grants: one Permit is enough, whatever the others say; none applicable is NotApplicable,
  // which a deny-biased enforcement point (section 7.2.2) refuses. C.2 deny-overrides between wall and grants: the wall's Deny wins.
  const matches = { kind: "test" as const, path: ["t_1_n"], operator: "is" as const, operands: [{ kind: "literal" as const, value: "x" }] };
  const misses = { ...matches, operands: [{ kind: "literal" as const, value: "y" }] };
  const outcome = (filters: (typeof matches | null)[], wall: Wall, company: string | null) => {
    const policy = new Policy(schema, {
      roles: [role("a")],
      walls: { t_1: wall },
      grants: filters.map((filter, i) => ({
        id: `g${i}`,
        roles: ["a"],
        table: "t_1",
        actions: ["see"],
        filter,
        fields: ["t_1_n"],
        changes: [],
      })),
    });
    return decide(policy, testViewer({ roles: ["a"] }), "see", "t_1", row(company), world).outcome;
  };
  const owned: Wall = { kind: "owned", path: ["t_1_c"] };
  it.each([
    ["Permit, Permit", [matches, null], owned, "c1", "allowed"],
    ["Permit, NotApplicable", [matches, misses], owned, "c1", "allowed"],
    ["NotApplicable, Permit", [misses, matches], owned, "c1", "allowed"],
    ["NotApplicable, NotApplicable", [misses, misses], owned, "c1", "refused"],
    ["no rule at all", [], owned, "c1", "refused"],
    ["Deny (wall), Permit", [matches, null], owned, "c2", "refused"],
    ["Deny (broken path), Permit", [matches, null], owned, null, "refused"],
    ["Deny (agency-only), Permit", [matches, null], { kind: "agency-only" } as Wall, "c1", "refused"],
    ["no Deny (shared), Permit", [matches], { kind: "shared" } as Wall, null, "allowed"],
  ] as const)("%s", (_, filters, wall, company, wanted) => expect(outcome([...filters], wall as Wall, company)).toBe(wanted));
});

describe("ANSI INCITS 359-2012, core and hierarchical RBAC (general role hierarchies)", () => {
  // Functions by their names in the standard's functional specification (clause 6): core 6.1, general hierarchies 6.2.
  const roles = [role("director", ["lead", "auditor"]), role("lead", ["member"]), role("auditor", ["member"]), role("member")];
  const policy = new Policy(schema, {
    roles,
    walls: { t_1: { kind: "shared" } },
    grants: ["member", "auditor", "director"].map((r) => ({
      id: `g-${r}`,
      roles: [r],
      table: "t_1",
      actions: ["see"],
      filter: null,
      fields: [],
      changes: [],
    })),
  });
  const permissions = (...held: string[]) =>
    scope(policy, testViewer({ roles: held }), "t_1")
      .grants.map((g) => g.grant.id)
      .sort();

  it("AuthorizedPermissions: a senior role has all of its juniors', through every level", () => {
    expect(permissions("member")).toEqual(["g-member"]);
    expect(permissions("lead")).toEqual(["g-member"]);
    expect(permissions("director")).toEqual(["g-auditor", "g-director", "g-member"]);
  });
  it("UserPermissions: those of all roles held", () => expect(permissions("lead", "auditor")).toEqual(["g-auditor", "g-member"]));
  it("a junior has nothing of its senior", () =>
    expect(activeRoles(policy, testViewer({ roles: ["member"] }))).toEqual(new Set(["member"])));
  const users = Object.entries({ ann: ["director"], bob: ["lead", "auditor"], cat: ["member"], dan: [] as string[] }).map(
    ([name, held]) => ({
      name,
      viewer: testViewer({ roles: held }),
    }),
  );
  const names = (of: readonly { name: string }[]) => of.map((u) => u.name);
  it("AssignedUsers: those to whom the role itself was given", () => {
    expect(roles.map((r) => names(assignedUsers(users, r.id)))).toEqual([["ann"], ["bob"], ["bob"], ["cat"]]);
  });
  it("AuthorizedUsers: {u | a role r' that inherits r is assigned to u}", () => {
    expect(roles.map((r) => names(authorizedUsers(policy, users, r.id)))).toEqual([
      ["ann"],
      ["ann", "bob"],
      ["ann", "bob"],
      ["ann", "bob", "cat"],
    ]);
  });
  it("RolePermissions: {p | a role that r inherits has p}, with the role that brings it", () => {
    const of = (r: string) => rolePermissions(policy, r).map((p) => [p.grant.id, p.through]);
    expect(of("member")).toEqual([["g-member", null]]);
    expect(of("lead")).toEqual([["g-member", "member"]]);
    expect(of("director")).toEqual([
      ["g-member", "member"],
      ["g-auditor", "auditor"],
      ["g-director", null],
    ]);
  });
  it("UserPermissions are the union of RolePermissions over AssignedRoles", () => {
    for (const u of users) {
      const union = new Set(u.viewer.roles.flatMap((r) => rolePermissions(policy, r).map((p) => p.grant.id)));
      expect(permissions(...u.viewer.roles)).toEqual([...union].sort());
    }
  });
  it("AuthorizedUsers and RolePermissions are monotone in the hierarchy", () => {
    for (const senior of roles)
      for (const junior of policy.closure(senior.id)) {
        const more = new Set(names(authorizedUsers(policy, users, junior)));
        expect(names(authorizedUsers(policy, users, senior.id)).every((u) => more.has(u))).toBe(true);
        const has = new Set(rolePermissions(policy, senior.id).map((p) => p.grant.id));
        expect(rolePermissions(policy, junior).every((p) => has.has(p.grant.id))).toBe(true);
      }
  });
  it("AddInheritance: the hierarchy is a partial order; a cycle is found, and even published it ends", () => {
    const ring = [role("a", ["b"]), role("b", ["c"]), role("c", ["a"]), role("d", ["a"])];
    expect(roleCycles(ring).sort()).toEqual(["a", "b", "c"]);
    expect(roleCycles(roles)).toEqual([]);
    expect(new Policy(schema, { roles: ring, walls: {}, grants: [] }).closure("a")).toEqual(new Set(["a", "b", "c"]));
  });
});

describe("who is on which side", () => {
  const roles = [
    role("lead"),
    role("own", [], { companyId: "c1" }),
    role("staff", [], { side: "agency" }),
    role("public", [], { side: "visitor" }),
    role("sly", ["staff"]),
  ];
  const policy = new Policy(schema, {
    roles,
    walls: { t_1: { kind: "owned", path: ["t_1_n"] } },
    grants: roles.map((r) => ({ id: r.id, roles: [r.id], table: "t_1", actions: ["see"], filter: null, fields: [], changes: [] })),
  });
  const active = (facts: Parameters<typeof testViewer>[0]) => [...activeRoles(policy, testViewer(facts))].sort();
  it("a company's own role counts there alone", () => {
    expect(active({ roles: ["own"] })).toEqual(["own"]);
    expect(active({ roles: ["own"], company: { id: "c2", name: "", values: {} } })).toEqual([]);
  });
  it("an agency role in a company's membership counts for nothing, held or included", () => {
    expect(active({ roles: ["staff"] })).toEqual([]);
    expect(active({ roles: ["sly"] })).toEqual(["sly"]);
  });
  it("a client role without a company counts for nothing: it would stand outside every wall", () =>
    expect(active({ roles: ["lead"], company: null })).toEqual([]));
  it("nobody who is not active decides anything", () => {
    for (const status of ["invited", "awaiting approval", "inactive", "expired"] as const) {
      const viewer = testViewer({ roles: ["lead"], person: { id: "p", name: "", status, values: {} } });
      expect(decide(policy, viewer, "see", "t_1", row("c1"), world)).toEqual({
        outcome: "refused",
        reasons: [{ code: "account", status }],
      });
    }
  });
});
