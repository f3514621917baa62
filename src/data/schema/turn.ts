/** A relation to several turned round to the many side: where each of the others belongs to one, it says so itself. */

import type { Owner } from "@/core/access/who/viewer";
import { slugOf } from "@/core/address/slug";
import { actorOf } from "@/core/events/event";
import type { Result } from "@/core/result";
import { pointsToSeveral } from "@/core/schema/fields/natures";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { record } from "../events/record";
import { attempt, orRefuse, refuse } from "../file/attempt";
import type { PortalFile } from "../file/open";
import { addField } from "../tables/change";
import { storeCompanies } from "../tables/company";
import { linkTableName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { putFieldAway } from "./put-away";
import { nameProblem } from "./shape";
import type { ShapeError } from "./shaping";

export interface Turning {
  readonly links: number;
  /** Records of the other side that several point to: each can say one of them only. */
  readonly shared: number;
  readonly examples: readonly string[];
}

/** A to-many that holds more than this is better on the other side (common practice, no source). */
export const MANY = 500;

/** What turning a relation round would do; undefined of a field that is no relation to several. */
export function turning(file: PortalFile, fieldId: string): Turning | undefined {
  const field = schemaOf(file).findField(fieldId);
  if (!(field && pointsToSeveral(field)) || field.system) return undefined;
  const link = sqlName(linkTableName(field));
  const label = schemaOf(file).table(field.options.target).labelFieldId;
  const twice = `SELECT target_id FROM ${link} GROUP BY target_id HAVING count(*) > 1`;
  return {
    links: file.db.prepare(`SELECT count(*) FROM ${link}`).pluck().get() as number,
    shared: file.db.prepare(`SELECT count(*) FROM (${twice})`).pluck().get() as number,
    examples: file.db
      .prepare(`SELECT coalesce(${sqlName(label)}, '') FROM ${sqlName(field.options.target)} WHERE id IN (${twice}) LIMIT 10`)
      .pluck()
      .all()
      .map(String),
  };
}

/** The field that was is put away, with its links: nothing is lost, and it can be brought back. */
export function turnRound(file: PortalFile, owner: Owner, fieldId: string, name: string): Result<string, ShapeError> {
  return attempt<string, ShapeError>(file, () => {
    const schema = schemaOf(file);
    const field = schema.findField(fieldId);
    const state = turning(file, fieldId);
    if (!(field && pointsToSeveral(field)) || !state)
      return refuse<ShapeError>({ code: "refused", message: "Only a relation to several can be turned round." });
    if (state.shared > 0)
      return refuse<ShapeError>({
        code: "refused",
        message: `${state.shared === 1 ? "One record is" : `${state.shared} records are`} pointed to by several, and could say one of them only: ${state.examples.join(", ")}.`,
      });
    const target = schema.table(field.options.target);
    const problem = nameProblem(target, name.trim(), null);
    if (problem) return refuse<ShapeError>({ code: "refused", message: problem });
    const taken = new Set(file.db.prepare("SELECT slug FROM sys_fields WHERE table_id = ?").pluck().all(target.id) as string[]);
    const id = addField(file, target.id, {
      slug: slugOf(name, "field", (s) => taken.has(s)),
      name: name.trim(),
      type: "relation",
      options: { target: field.tableId },
    });
    file.db.exec(
      `UPDATE ${sqlName(target.id)} AS t SET ${sqlName(id)} = l.record_id, version = version + 1 FROM ${sqlName(linkTableName(field))} l WHERE l.target_id = t.id`,
    );
    orRefuse(putFieldAway(file, owner, fieldId));
    const { policy } = published(file);
    for (const t of policy.schema.tables) storeCompanies(file, policy, t.id);
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "relation-turned",
      table: target.id,
      detail: field.name,
    });
    return id;
  });
}
