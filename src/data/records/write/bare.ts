/** A record that is named somewhere and not there yet: it is made with its name, what defaults give, and what Elkhorn writes itself. */

import type { Owner } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import type { Table, Value } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../../definition/published";
import type { PortalFile } from "../../file/open";
import { insertRow } from "../../tables/store";
import { automaticValues } from "./automatic";
import { defaults } from "./incoming";

interface Bare {
  readonly id: string;
  readonly name: string;
  /** Whose it is, where its table says that by a field of its own. */
  readonly company: string | null;
}

/** A record with a name and nothing else, as is made where a name is missing. Within a transaction; whoever calls it records the event. */
export function addBare(file: PortalFile, owner: Owner, table: Table, { id, name, company }: Bare): void {
  const { policy } = published(file);
  const wall = policy.wall(table.id);
  const own: Record<string, Value> = wall.kind === "owned" && wall.path.length === 1 && company ? { [wall.path[0]!]: company } : {};
  const values = { ...defaults(table, owner), ...own, [table.labelFieldId]: name };
  const made = automaticValues({ file, policy, viewer: owner, table, id, company }, values, null);
  insertRow(file, table, id, { ...values, ...made }, { by: actorText(actorOf(owner)), at: new Date(owner.now).toISOString() });
  if (Object.keys(own).length > 0) file.db.prepare(`UPDATE ${sqlName(table.id)} SET company_id = ? WHERE id = ?`).run(company, id);
}
