/** Two portals in a folder of their own, and people of the first, one for each test that asks. Called once, at the top of a test file. */
import { beforeAll } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalFile } from "@/data/file/open";
import { createPortal } from "@/data/installation/portals";
import { addCompany, addPerson } from "@/data/people/people";
import { ownerViewer } from "@/identity/viewers/viewer";
import { ownFolder } from "./folder";
import { must } from "./portal";
import { PUBLISHER } from "./world";

export const NOW = Date.UTC(2026, 5, 1, 12);

export interface Islands {
  /** The file of portal "one"; the other portal is "two". */
  file: PortalFile;
  owner: Owner;
  person(): { id: string; email: string };
}

export function islands(): Islands {
  ownFolder();
  let n = 0;
  const owner = ownerViewer({ id: "o", name: "Owner" }, NOW);
  const made: Islands = {
    file: undefined as never,
    owner,
    person() {
      const email = `p${++n}@client.example`;
      const company = must(addCompany(made.file, owner, `Client ${n}`));
      const memberships = [{ companyId: company.id, roles: ["lead"] }];
      return { id: must(addPerson(made.file, owner, { name: `Person ${n}`, email, memberships })).id, email };
    },
  };
  beforeAll(() => {
    const first = createPortal("one", "One", PUBLISHER);
    createPortal("two", "Two", PUBLISHER);
    if ("problem" in first) throw new Error(first.problem);
    made.file = first.file;
  });
  return made;
}
