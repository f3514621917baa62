/** What would make fill rules wrong, each as a sentence. */

import { conditionProblems } from "../access/sound";
import { choosesSeveral, isDay } from "../schema/fields/natures";
import { kindOf, type Schema, type Table } from "../schema/types";
import { type Expression, type Fill, fillCycle, looksAt } from "./fill";

/** What the rules that fill a form cannot be read by, each as a sentence. */
export function fillProblems(rules: readonly Fill[], table: Table, schema: Schema): string[] {
  const nameOf = (id: string): string => table.fields.find((f) => f.id === id)?.name ?? "a field that is gone";
  const cycle = fillCycle(rules);
  return [
    ...rules.flatMap((r) => {
      const f = table.fields.find((x) => x.id === r.field);
      if (!f) return ["A fill rule sets a field that is gone."];
      const gone = looksAt(r).some((id) => !table.fields.some((x) => x.id === id));
      const said = `The fill rule of ${f.name}`;
      return [
        ...(gone ? [`${said} looks at a field that is gone.`] : []),
        ...(f.system ? [`${said} sets what Elkhorn sets itself.`] : []),
        ...r.lines.flatMap((l) => conditionProblems(l.when, table.id, schema).map((p) => `${said}: ${p}`)),
        ...[...r.lines.map((l) => l.value), r.otherwise].flatMap((e) =>
          e && !fits(e, f.type, kindOf(f).numeric) ? [`${said} gives something that does not fit it.`] : [],
        ),
      ];
    }),
    ...(cycle ? [`Fill rules go round in a circle: ${[...cycle, cycle[0]!].map(nameOf).join(" → ")}.`] : []),
  ];
}

function fits(e: Expression, type: string, numeric: boolean): boolean {
  if (e.kind === "math") return numeric;
  if (e.kind === "days" || e.kind === "today") return isDay({ type });
  return e.kind !== "literal" || numeric === (typeof e.value === "number") || choosesSeveral({ type });
}
