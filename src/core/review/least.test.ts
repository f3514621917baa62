import { expect, it } from "vitest";
import type { Grant, Role } from "../access/rules";
import { leastFirst } from "./least";

const role = (id: string, ...includes: string[]): Role => ({ id, name: id, side: "client", includes });
const grant = (roles: string[], actions: Grant["actions"], fields: string[] = ["a"], acts: string[] = []): Grant => ({
  id: `${roles}${actions}`,
  roles,
  table: "t",
  actions,
  acts,
  filter: null,
  fields,
  changes: [],
});

it("the role that allows least stands first; what it includes, acts, paying and leading count", () => {
  const roles = [role("lead", "member"), role("payer"), role("signer"), role("member"), role("reader"), role("wide")];
  const grants = [
    grant(["member"], ["see", "add"]),
    grant(["reader"], ["see"]),
    grant(["wide"], ["see"], ["a", "b"]),
    grant(["signer"], ["see"], ["a"], ["sign"]),
    grant(["lead"], ["remove"]),
  ];
  const order = (more: string[] = []) => leastFirst({ roles, grants, billing: { payers: ["payer"] } }, roles, more).map((r) => r.id);
  expect(order()).toEqual(["reader", "wide", "signer", "member", "lead", "payer"]);
  expect(order(["reader"])).toEqual(["wide", "signer", "member", "lead", "payer", "reader"]);
});

it("roles that include each other are counted once, and those that allow alike stay in their order", () => {
  const roles = [role("b", "a"), role("a", "b"), role("none")];
  expect(leastFirst({ roles, grants: [grant(["a"], ["see"])] }, roles).map((r) => r.id)).toEqual(["none", "b", "a"]);
});
