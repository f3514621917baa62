/**
 * The name of a table, column or index as it stands in a statement (SQLite, "SQL Language Expressions": identifiers in double quotes, a
 * double quote within written twice). The only place that quotes names; values are always bound.
 */
export function sqlName(name: string): string {
  if (name.includes("\0")) throw new Error(`${JSON.stringify(name)} cannot name anything in SQLite.`);
  return `"${name.replaceAll('"', '""')}"`;
}
