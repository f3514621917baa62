/** How many records a table has, whoever asks: for figures of the agency and sizes, never for what a client reads. */
import { sql } from "drizzle-orm";
import type { PortalFile } from "../file/open";

export const countOf = (file: PortalFile, table: string): number =>
  file.orm.get<{ n: number }>(sql`SELECT count(*) AS n FROM ${sql.identifier(table)}`).n;
