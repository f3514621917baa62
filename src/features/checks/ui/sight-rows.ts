/** The lines of the matrix as they are shown: filtered, and under the name of their company. */
import type { Line, Matrix } from "../sightlines";

export interface Filters {
  q: string;
  company: string;
  role: string;
  table: string;
}

export type Row =
  | { readonly kind: "group"; readonly name: string; readonly people: number }
  | { readonly kind: "line"; readonly line: Line };

const NO_COMPANY = "Agency and others";

export const companyOf = (l: Line): string => l.company ?? NO_COMPANY;
export const companiesOf = (m: Matrix): string[] => [...new Set(m.lines.map(companyOf))];
export const rolesOf = (m: Matrix): string[] => [...new Set(m.lines.flatMap((l) => l.roles))].sort();

export function rowsOf(m: Matrix, f: Filters): Row[] {
  const words = f.q.trim().toLocaleLowerCase();
  const groups = new Map<string, Line[]>();
  for (const l of m.lines) {
    if (words && !l.name.toLocaleLowerCase().includes(words)) continue;
    if ((f.company && companyOf(l) !== f.company) || (f.role && !l.roles.includes(f.role))) continue;
    const known = groups.get(companyOf(l));
    if (known) known.push(l);
    else groups.set(companyOf(l), [l]);
  }
  return [...groups].flatMap(([name, lines]): Row[] => [
    { kind: "group", name, people: lines.length },
    ...lines.map((line): Row => ({ kind: "line", line })),
  ]);
}
