/** Who holds each role of the draft, given to them or through a role that includes it. */

import type { Role } from "@/core/access/rules";
import { assignedUsers, authorizedUsers } from "@/core/review/held-roles";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { everyone, type Someone } from "@/identity/viewers/crowd";
import type { AccessView } from "@/office/checking";

export interface Holders {
  readonly given: readonly Someone[];
  readonly through: readonly Someone[];
}

export function holdersOf(p: OfficePortal, v: AccessView): (role: Role) => Holders {
  const people = everyone(p.file, v.definition, p.owner, p.now).filter((s) => s.personId);
  return (role) => {
    const given = assignedUsers(people, role.id);
    const has = new Set(given);
    return { given, through: authorizedUsers(v.policy, people, role.id).filter((s) => !has.has(s)) };
  };
}
