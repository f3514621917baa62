/** Views of a portal's lists that a person keeps by name. They hold what an address holds, so they open nothing. */
import { and, asc, count, eq } from "drizzle-orm";
import type { Viewer } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { keptViews } from "../file/portal-tables";
import { transact } from "../file/transact";

export interface KeptView {
  readonly id: string;
  readonly name: string;
  /** The list's own parameters, without what tells it from other lists of a page (application/x-www-form-urlencoded). */
  readonly query: string;
}

/** Of one list, and of all: the name of a list is whatever comes with the request. */
const MOST = 30;
const MOST_IN_ALL = 300;
export const MOST_NAME = 60;
const MOST_QUERY = 2_000;

/** A person's own saved views of a section; none of a visitor. */
export const viewsKept = (file: PortalFile, viewer: Viewer, section: string): KeptView[] =>
  viewer.person
    ? file.orm
        .select({ id: keptViews.id, name: keptViews.name, query: keptViews.query })
        .from(keptViews)
        .where(and(eq(keptViews.personId, viewer.person.id), eq(keptViews.section, section)))
        .orderBy(asc(keptViews.name))
        .all()
    : [];

/** Under a name that is there already it takes that one's place. */
export function keepViewOf(
  file: PortalFile,
  viewer: Viewer,
  section: string,
  given: { readonly name: string; readonly query: string },
): Result<null, "name" | "many" | "nobody"> {
  const name = given.name.trim();
  const { person } = viewer;
  if (!person || section.length > 100) return err("nobody");
  if (name === "" || name.length > MOST_NAME || given.query.length > MOST_QUERY) return err("name");
  return transact(file, (): Result<null, "many"> => {
    const mine = and(eq(keptViews.personId, person.id), eq(keptViews.section, section));
    file.orm
      .delete(keptViews)
      .where(and(mine, eq(keptViews.name, name)))
      .run();
    if ((file.orm.select({ n: count() }).from(keptViews).where(mine).get()?.n ?? 0) >= MOST) return err("many");
    const all = eq(keptViews.personId, person.id);
    if ((file.orm.select({ n: count() }).from(keptViews).where(all).get()?.n ?? 0) >= MOST_IN_ALL) return err("many");
    file.orm.insert(keptViews).values({ id: newId(), personId: person.id, section, name, query: given.query, at: viewer.now }).run();
    return ok(null);
  });
}

/** Removes one of the viewer's own views. False where it is not theirs. */
export const dropViewOf = (file: PortalFile, viewer: Viewer, id: string): boolean =>
  viewer.person !== null &&
  file.orm
    .delete(keptViews)
    .where(and(eq(keptViews.id, id), eq(keptViews.personId, viewer.person?.id ?? "")))
    .run().changes === 1;
