/**
 * Who holds a role and what it permits, in the terms of ANSI INCITS 359-2012: AssignedUsers (clause 6.1.3), AuthorizedUsers
 * and RolePermissions in a general hierarchy (clauses 6.2.1 and 6.2.2). Users are memberships here: roles are held in them.
 */
import type { Policy } from "../access/policy";
import type { Grant } from "../access/rules";
import { activeRoles } from "../access/scope";
import type { Viewer } from "../access/who/viewer";

interface Holder {
  readonly viewer: Viewer;
}

/** People to whom the role itself was given. */
export const assignedUsers = <T extends Holder>(users: readonly T[], role: string): T[] =>
  users.filter((u) => u.viewer.roles.includes(role));

/** Those who have the role, whether given or through another that includes it, where it counts on their side of the wall. */
export const authorizedUsers = <T extends Holder>(policy: Policy, users: readonly T[], role: string): T[] =>
  users.filter((u) => activeRoles(policy, u.viewer).has(role));

export interface Permission {
  readonly grant: Grant;
  /** The included role that brings it; null where the grant names the role itself. */
  readonly through: string | null;
}

/** Grants of the role and of all that it includes. */
export function rolePermissions(policy: Policy, role: string): Permission[] {
  const all = policy.closure(role);
  return policy.rules.grants.flatMap((grant): Permission[] => {
    if (grant.roles.includes(role)) return [{ grant, through: null }];
    const through = grant.roles.find((r) => all.has(r));
    return through ? [{ grant, through }] : [];
  });
}
