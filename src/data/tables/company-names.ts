/** The names of companies as the office shows them: of those that are called alike, with the address that only one has. */
import type { PortalFile } from "../file/open";

/** SQL for the name of a row of `t_companies` that is called `as` in the query. */
export const companyNameSql = (as: string): string =>
  `${as}.f_company_name || CASE WHEN EXISTS (SELECT 1 FROM t_companies o WHERE o.f_company_name_k = ${as}.f_company_name_k AND o.id <> ${as}.id)
   THEN ' (' || ${as}.f_company_slug || ')' ELSE '' END`;

/** By id, in the order of their names. */
export const companyNames = (file: PortalFile): Map<string, string> =>
  new Map(
    file.db
      .prepare(
        `SELECT id, f_company_name || CASE WHEN count(*) OVER (PARTITION BY f_company_name_k) > 1 THEN ' (' || f_company_slug || ')' ELSE '' END
         FROM t_companies ORDER BY f_company_name_k, f_company_slug`,
      )
      .raw()
      .all() as [string, string][],
  );

/** A company's name; undefined where there is no such company. */
export const companyName = (file: PortalFile, id: string): string | undefined =>
  file.db
    .prepare(`SELECT ${companyNameSql("c")} FROM t_companies c WHERE c.id = ?`)
    .pluck()
    .get(id) as string | undefined;

/** Names that several companies have, each once, as one of them writes it. */
export const sharedNames = (file: PortalFile): { name: string; companies: number }[] =>
  file.db
    .prepare(
      "SELECT min(f_company_name) AS name, count(*) AS companies FROM t_companies GROUP BY f_company_name_k HAVING count(*) > 1 ORDER BY 1",
    )
    .all() as { name: string; companies: number }[];
