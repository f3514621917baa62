/** What follows from what is filled in: fields that are asked for only then, and values by rule. The server's word, while typing and at the end. */

import { match } from "@/core/access/match";
import { resolve } from "@/core/access/resolve";
import { type FillWorld, filled } from "@/core/forms/fill";
import type { SectionOf } from "@/core/pages/page";
import { hasDecimals, isMoney } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Values } from "@/core/schema/types";
import { minorDigits } from "@/core/text/format";
import { anchorDate, dateIn } from "@/core/time/relative";
import { readerWorld } from "@/data/records/reader";
import type { PortalRequest } from "@/identity/requests/request";

/** Digits behind the point in a field's whole number. */
export const scaleOf = (f: Field | undefined): number => {
  if (!f) return 0;
  if (isMoney(f)) return minorDigits(f.options.currency);
  return hasDecimals(f) ? (f.options.decimals ?? 0) : 0;
};

/** Rules look at what is filled in, and on the way along relations only at records that the reader sees. */
export function fillWorld(r: PortalRequest, section: SectionOf<"form">): FillWorld {
  const { schema } = r.desk;
  const table = schema.table(section.config.table);
  const world = readerWorld(r.desk);
  return {
    holds: (c, values) => {
      const whole = Object.fromEntries(table.fields.map((f) => [f.id, values[f.id] ?? (kindOf(f).many ? [] : null)]));
      return match(
        resolve(c, r.viewer),
        { id: "", table: table.id, companyId: r.viewer.company?.id ?? null, values: whole },
        world,
        schema,
      );
    },
    // What they read of themselves: a rule hands nobody a value that the portal keeps from them.
    viewer: (of, field) => {
      const at = of === "person" ? r.viewer.person : r.viewer.company;
      const own = of === "person" ? schema.people : schema.companies;
      if (!at || field === null) return at?.id ?? null;
      if (field === own.labelFieldId) return at.name;
      return world.row(own.id, at.id)?.values[field] ?? null;
    },
    today: (anchor) => anchorDate(anchor, dateIn(r.viewer.now, r.viewer.timeZone)),
    scaleOf: (id) => scaleOf(schema.findField(id)),
  };
}

export interface Worked {
  readonly values: Values;
  /** Fields that are not asked for as things stand. */
  readonly hidden: ReadonlySet<string>;
}

/** `settable` are fields that the sender may set: a rule fills no other. `touched` were filled in by hand. */
export function workOut(
  r: PortalRequest,
  section: SectionOf<"form">,
  given: Values,
  settable: readonly Field[],
  touched: ReadonlySet<string>,
): Worked {
  const world = fillWorld(r, section);
  const may = new Map(settable.map((f) => [f.id, { id: f.id, numeric: kindOf(f).numeric }]));
  const values: Values = filled(section.config.fill, given, touched, (id) => may.get(id), world);
  const hidden = new Set((section.config.fields ?? []).filter((a) => a.when !== null && !world.holds(a.when, values)).map((a) => a.field));
  return { values, hidden };
}
