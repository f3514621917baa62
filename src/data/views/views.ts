/** Views of tables in the back office: columns, their order and width, what is frozen, and what was sorted and filtered. */
import { and, eq, ne } from "drizzle-orm";
import { z } from "zod";
import type { Owner } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { views } from "../file/portal-tables";
import { transact } from "../file/transact";

export const viewSchema = z.strictObject({
  /** By field id, in their order. Fields that neither stand here nor are hidden come last. */
  columns: z.array(z.strictObject({ field: z.string().max(64), width: z.int().min(60).max(900).optional() })).max(500),
  hidden: z.array(z.string().max(64)).max(500),
  /** Columns that stay at the left, from the first. */
  frozen: z.int().min(0).max(5),
  /** The query of the address. */
  query: z.string().max(4_000),
});
export type View = z.infer<typeof viewSchema>;
export const PLAIN_VIEW: View = { columns: [], hidden: [], frozen: 1, query: "" };

export interface NamedView {
  readonly id: string;
  readonly name: string;
  readonly view: View;
}

const staffOf = (owner: Owner): string => owner.person?.id ?? "owner";
const MOST_NAMED = 50;

function read(body: string): View {
  const parsed = viewSchema.safeParse(JSON.parse(body));
  return parsed.success ? parsed.data : PLAIN_VIEW;
}

/** How this member of staff left the table. */
export function ownView(file: PortalFile, owner: Owner, tableId: string): View {
  const row = file.orm
    .select()
    .from(views)
    .where(and(eq(views.tableId, tableId), eq(views.staffId, staffOf(owner)), eq(views.name, "")))
    .get();
  return row ? read(row.body) : PLAIN_VIEW;
}

/** The views of a table that the agency gave a name. */
export const namedViews = (file: PortalFile, _owner: Owner, tableId: string): NamedView[] =>
  file.orm
    .select()
    .from(views)
    .where(and(eq(views.tableId, tableId), ne(views.name, "")))
    .all()
    .map((r) => ({ id: r.id, name: r.name, view: read(r.body) }))
    .sort((a, b) => a.name.localeCompare(b.name));

/** Under a name it is everybody's in the office, and takes the place of one of the same name; without, it is one's own. */
export function keepView(file: PortalFile, owner: Owner, tableId: string, name: string, view: View): Result<{ id: string }, string> {
  const called = name.trim();
  if (called.length > 60) return err("Keep the view's name under 60 characters.");
  return transact(file, (): Result<{ id: string }, string> => {
    const own = called === "" ? [eq(views.staffId, staffOf(owner))] : [];
    const same = and(eq(views.tableId, tableId), eq(views.name, called), ...own);
    if (called !== "" && namedViews(file, owner, tableId).length >= MOST_NAMED)
      return err(`A table keeps ${MOST_NAMED} named views at the most.`);
    const id = file.orm.select({ id: views.id }).from(views).where(same).get()?.id ?? newId();
    const row = { id, tableId, staffId: staffOf(owner), name: called, body: JSON.stringify(view), at: new Date(owner.now).toISOString() };
    file.orm.insert(views).values(row).onConflictDoUpdate({ target: views.id, set: row }).run();
    return ok({ id });
  });
}

/** Removes a view for everybody. */
export function removeView(file: PortalFile, _owner: Owner, id: string): void {
  file.orm
    .delete(views)
    .where(and(eq(views.id, id), ne(views.name, "")))
    .run();
}
