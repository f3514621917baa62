/** A level below the company set up: people are tied to it at once, the role and what it sees are drafted. */

import type { Owner } from "@/core/access/who/viewer";
import { slugOf } from "@/core/address/slug";
import { actorOf } from "@/core/events/event";
import type { Result } from "@/core/result";
import { below, levelGrants, levelProblem } from "@/core/review/level";
import { pointsToSeveral } from "@/core/schema/fields/natures";
import type { Field, Schema, Table } from "@/core/schema/types";
import { changeDraft, draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { record } from "../events/record";
import { attempt, refuse } from "../file/attempt";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { addField } from "../tables/change";
import { schemaOf } from "../tables/read";

/** The field of People that ties them to the level, where there is one. */
export const tieTo = (schema: Schema, level: Table): Field | undefined =>
  schema.people.fields.find((f) => pointsToSeveral(f) && f.options.target === level.id);

/** What a role of the level would see: the level itself first. */
export const levelSees = (schema: Schema, level: Table): string[] => [level.name, ...below(schema, level).map((b) => b.table.name)];

/** Makes a role for people of this table's records, with the field of People that ties them to it; or says why it cannot. */
export function levelBelow(
  file: PortalFile,
  owner: Owner,
  given: { table: string; role: string },
): Result<{ field: string; role: string }, string> {
  return attempt(file, () => {
    const level = schemaOf(file).findTable(given.table);
    const problem = levelProblem(published(file).policy, level);
    if (problem || !level) refuse(problem ?? "This table is gone.");
    const name = given.role.trim();
    if (!name || name.length > 80) refuse("Give the role a name of up to 80 characters.");
    const draft = draftOf(file, owner);
    if (draft.definition.roles.some((r) => r.name.toLowerCase() === name.toLowerCase())) refuse(`There is a role called ${name}.`);
    const there = tieTo(schemaOf(file), level);
    const field = there?.id ?? tie(file, level);
    const { people } = schemaOf(file);
    const role = `r_${newId().replaceAll("-", "")}`;
    const grantId = (): string => `g_${newId().replaceAll("-", "")}`;
    const done = changeDraft(
      file,
      owner,
      draft.revision,
      (d) => ({
        ...d,
        roles: [
          ...d.roles,
          {
            id: role,
            name,
            side: "client" as const,
            includes: [],
            about: `Sees their own ${level.name.toLowerCase()} and what belongs to them.`,
          },
        ],
        grants: [...d.grants, ...levelGrants(d, schemaOf(file), level, field, role, grantId)],
      }),
      `${name} of ${level.name}`,
    );
    if (!done.ok) refuse(done.error.code === "stale" ? "Somebody changed the draft meanwhile. Try again." : done.error.messages.join(" "));
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "level-added", table: people.id, detail: level.name });
    return { field, role };
  });
}

function tie(file: PortalFile, level: Table): string {
  const { people } = schemaOf(file);
  // Slugs of fields that are put away are taken, too.
  const slugs = new Set(file.db.prepare("SELECT slug FROM sys_fields WHERE table_id = ?").pluck().all(people.id));
  const taken = (slug: string): boolean => slugs.has(slug);
  const name = people.fields.some((f) => f.name.toLowerCase() === level.name.toLowerCase()) ? `${level.name} of theirs` : level.name;
  return addField(file, people.id, { slug: slugOf(level.slug, "field", taken), name, type: "relations", options: { target: level.id } });
}
