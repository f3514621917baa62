/** Whose the records of a new table are, and the access that it begins with: both in the draft, so that nothing is open before it is published. */
import type { Wall } from "@/core/access/rules";
import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { starterGrants } from "@/core/exchange/starters";
import type { Table } from "@/core/schema/types";
import { changeDraft, draftOf } from "../definition/draft";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { addField } from "../tables/change";
import { schemaOf } from "../tables/read";
import type { Places } from "./places";

function wallOf(file: PortalFile, owner: Owner, plan: ImportPlan, places: Places): Wall {
  const { whose } = plan;
  if (whose.kind === "shared") return { kind: "shared" };
  if (whose.kind !== "column") return { kind: "agency-only" };
  const field = places.columnIds.get(whose.at)!;
  const target = schemaOf(file).relation(field).options.target;
  const beyond = draftOf(file, owner).definition.walls[target];
  return { kind: "owned", path: [field, ...(beyond?.kind === "owned" ? beyond.path : [])] };
}

export function accessInDraft(
  file: PortalFile,
  owner: Owner,
  table: Table,
  plan: ImportPlan,
  places: Places,
): { wall: boolean; grants: string[]; fields: string[] } {
  const wall = wallOf(file, owner, plan, places);
  if (wall.kind === "agency-only" && plan.starters.length === 0) return { wall: false, grants: [], fields: [] };
  const made = plan.starters.includes("file")
    ? addField(file, table.id, { slug: "made-by", name: "Made by", type: "relation", options: { target: "t_people", kept: "made-by" } })
    : null;
  const whole = schemaOf(file).table(table.id);
  const madeBy = whole.fields.find((f) => f.id === made);
  const grants = wall.kind === "agency-only" ? [] : starterGrants(plan.starters, whole, () => `g_${newId().replaceAll("-", "")}`, madeBy);
  const { revision } = draftOf(file, owner);
  const changed = changeDraft(
    file,
    owner,
    revision,
    (d) => ({ ...d, walls: { ...d.walls, [table.id]: wall }, grants: [...d.grants, ...grants] }),
    `the import of ${table.name}`,
  );
  if (!changed.ok) throw new Error("The draft could not take the new table's access; the import is undone.");
  return { wall: true, grants: grants.map((g) => g.id), fields: made ? [made] : [] };
}
