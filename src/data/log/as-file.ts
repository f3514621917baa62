/** The log as rows of a file that any spreadsheet opens. */
import type { LogRow } from "./log";

export const LOG_COLUMNS = ["When (UTC)", "Who", "By", "Act", "Table", "Record", "Company", "Detail", "Changes"];

/** An entry as the cells of a row, one for each of `LOG_COLUMNS`; the time as ISO 8601 in UTC. */
export const logCells = (r: LogRow): string[] => [
  new Date(r.at).toISOString(),
  r.who,
  r.via,
  r.says,
  r.table?.name ?? "",
  r.record?.name ?? "",
  r.company?.name ?? "",
  r.detail ?? "",
  r.changes.map((c) => `${c.field}: ${c.before} → ${c.after}`).join("; "),
];
