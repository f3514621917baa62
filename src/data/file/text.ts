/** Statements of our own text with `?` for values, prepared once for a file: where an ORM would put the same text together at each call. */
import { type SQL, sql } from "drizzle-orm";
import type { PortalFile } from "./portal-file";

/** The text with a placeholder for each question mark: p0, p1 and so on. */
export function placed(text: string): SQL {
  const parts = text.split("?").map((p) => sql.raw(p));
  return sql.join(
    parts.flatMap((p, i) => (i === 0 ? [p] : [sql`${sql.placeholder(`p${i - 1}`)}`, p])),
    sql.raw(""),
  );
}

/** The first row; undefined where there is none. */
export const rowOf = (file: PortalFile, text: string, ...values: unknown[]): unknown[] | undefined =>
  file.statements.row(text, () => placed(text), values);
/** All rows, each as its values in the order that was asked. */
export const rowsOf = (file: PortalFile, text: string, ...values: unknown[]): unknown[][] =>
  file.statements.rows(text, () => placed(text), values);
/** How many rows it changed. */
export const runOf = (file: PortalFile, text: string, ...values: unknown[]): number =>
  file.statements.run(text, () => placed(text), values);
