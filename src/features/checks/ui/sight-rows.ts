/** The lines of the matrix as they are shown: filtered, and under the name of their company or of each of their roles. */
import type { Line, Matrix } from "../sightlines";

export interface Filters {
  q: string;
  /** An id; in addresses that were shared, a name as it is shown. */
  company: string;
  role: string;
  table: string;
  by: "company" | "role";
  /** "groups": without the people in them. */
  show: "people" | "groups";
}

/** The fewest and the most records that anybody of a group sees of a table. */
export type Range = readonly [least: number, most: number];

export type Row =
  | {
      readonly kind: "group";
      readonly name: string;
      readonly people: number;
      readonly ranges: readonly Range[];
    }
  | { readonly kind: "line"; readonly line: Line; readonly group: string };

const NO_COMPANY = "Agency and others";
const VISITORS = "Visitors";
const NO_ROLE = "Without a role";

const NONE = "none";
export const companyLabel = (l: Line): string => l.company ?? NO_COMPANY;
const companyKey = (l: Line): string => l.companyId ?? NONE;
/** Each company by its id, in the order of the lines. */
export const companiesOf = (m: Matrix): { value: string; label: string }[] =>
  [...new Map(m.lines.map((l) => [companyKey(l), companyLabel(l)]))].map(([value, label]) => ({ value, label }));
export const rolesOf = (m: Matrix): string[] => [...new Set([...m.roles.map((r) => r.name), ...m.lines.flatMap((l) => l.roles)])].sort();

const groupsOf = (l: Line, by: Filters["by"]): readonly string[] =>
  by === "company" ? [companyLabel(l)] : l.status === "visitor" ? [VISITORS] : l.roles.length > 0 ? [...new Set(l.roles)] : [NO_ROLE];

/** Who holds several roles stands under each of them. Roles that nobody holds are told where nothing narrows the lines down. */
export function rowsOf(m: Matrix, f: Filters): Row[] {
  const words = f.q.trim().toLocaleLowerCase();
  const groups = new Map<string, Line[]>();
  if (f.by === "role" && !words && !f.company) for (const r of rolesOf(m)) if (!f.role || r === f.role) groups.set(r, []);
  for (const l of m.lines) {
    if (words && !l.name.toLocaleLowerCase().includes(words)) continue;
    if ((f.company && companyKey(l) !== f.company && companyLabel(l) !== f.company) || (f.role && !l.roles.includes(f.role))) continue;
    for (const group of groupsOf(l, f.by)) {
      if (f.by === "role" && f.role && group !== f.role) continue;
      const known = groups.get(group);
      if (known) known.push(l);
      else groups.set(group, [l]);
    }
  }
  return [...groups].flatMap(([name, lines]): Row[] => [
    groupRow(m, name, lines),
    ...(f.show === "groups" ? [] : lines.map((line): Row => ({ kind: "line", line, group: name }))),
  ]);
}

function groupRow(m: Matrix, name: string, lines: readonly Line[]): Row {
  const ranges = m.tables.map((_, t): Range => {
    let [least, most] = [Number.POSITIVE_INFINITY, 0];
    for (const l of lines) {
      const n = l.cells[t]?.[0] ?? 0;
      least = Math.min(least, n);
      most = Math.max(most, n);
    }
    return [lines.length > 0 ? least : 0, most];
  });
  return { kind: "group", name, people: lines.length, ranges };
}

/** "40" where all see as many, else "6–14". */
export const rangeWords = ([least, most]: Range, n: Intl.NumberFormat): string =>
  least === most ? n.format(most) : `${n.format(least)}–${n.format(most)}`;
