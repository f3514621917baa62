/** What is probably a mistake in a portal's access, from the rules and from counts that somebody else has taken. */

import type { Policy } from "../access/policy";
import { EVERYONE, roleCycles } from "../access/rules";
import { conditionWords, grantSentence, type Names, pathWords } from "../access/words/wording";
import type { Definition } from "../definition/definition";
import { pointsToSeveral } from "../schema/fields/natures";
import { waysToCompanies } from "../schema/ways";
import { contradiction } from "./contradiction";

export interface Counted {
  /** Records of each table: all, and those whose wall leads to no company. */
  readonly records: ReadonlyMap<string, { readonly all: number; readonly ownerless: number }>;
  /** Records that satisfy a grant's filter, wall aside; only for filters that do not speak of the viewer. */
  readonly matches: ReadonlyMap<string, number>;
  /** People who hold a role in some membership, through inclusion too. */
  readonly holders: ReadonlyMap<string, number>;
  /** People who are in, or will be, without any membership. */
  readonly adrift: readonly { readonly id: string; readonly name: string }[];
  /** For grants that compare with a value of the person: how many of those who hold it have none. */
  readonly valueless: ReadonlyMap<string, { readonly people: number; readonly without: number }>;
  /** Names that several companies have. */
  readonly alike: readonly { readonly name: string; readonly companies: number }[];
  /** By relation to several: the most records that one record holds. */
  readonly most: ReadonlyMap<string, number>;
}

export type Place =
  | { readonly at: "grant"; readonly id: string }
  | { readonly at: "wall"; readonly table: string }
  | { readonly at: "records"; readonly table: string }
  | { readonly at: "field"; readonly table: string; readonly field: string }
  | { readonly at: "roles" }
  | { readonly at: "company"; readonly name: string }
  | { readonly at: "person"; readonly id: string };

export interface Finding {
  /** `closed`: somebody sees less than was meant. `open`: more may be seen than was meant. `idle`: it does nothing. `heavy`: it will be a burden. */
  readonly kind: "open" | "closed" | "idle" | "heavy";
  readonly text: string;
  /** Where it is mended, and in how many words. */
  readonly fix: string;
  readonly place: Place;
}

const few = (d: Definition, n: number, one: string, many: string): string => `${n.toLocaleString(d.portal.locale)} ${n === 1 ? one : many}`;

/** What is probably a mistake in the rules: what is too open, what is too closed, what does nothing. */
export function findings(policy: Policy, definition: Definition, counted: Counted, names: Names): Finding[] {
  return [
    ...policy.schema.tables.flatMap((t) => ofTable(policy, definition, t.id, counted)),
    ...definition.grants.flatMap((g) => ofGrant(policy, definition, g, counted, names)),
    ...ofRoles(policy, definition, counted),
    ...ofRelations(policy, definition, counted),
    ...counted.adrift.map(
      (p): Finding => ({
        kind: "closed",
        text: `${p.name} belongs to no company, so they see nothing of any.`,
        fix: "Give them a membership",
        place: { at: "person", id: p.id },
      }),
    ),
    ...counted.alike.map(
      ({ name, companies }): Finding => ({
        kind: "open",
        text: `${companies === 2 ? "Two" : companies.toLocaleString(definition.portal.locale)} companies are called ${name}. Somebody may be put into the wrong one, and see its records.`,
        fix: "Call them differently",
        place: { at: "company", name },
      }),
    ),
  ];
}

/** So many links of one record are better said by the records that it points to (common practice, no source). */
export const MANY_LINKS = 500;

function ofRelations(policy: Policy, d: Definition, { most }: Counted): Finding[] {
  return policy.schema.tables.flatMap((t) =>
    t.fields.flatMap((f): Finding[] => {
      const n = most.get(f.id) ?? 0;
      if (!pointsToSeveral(f) || n <= MANY_LINKS) return [];
      return [
        {
          kind: "heavy",
          text: `${f.name} of ${t.name} holds up to ${few(d, n, "link", "links")} in one record. Turned round, each of ${policy.schema.table(f.options.target).name} would say itself what it belongs to.`,
          fix: "Turn it round",
          place: { at: "field", table: t.id, field: f.id },
        },
      ];
    }),
  );
}

function ofTable(policy: Policy, d: Definition, tableId: string, counted: Counted): Finding[] {
  const table = policy.schema.table(tableId);
  const found: Finding[] = [];
  const wall = policy.wall(tableId);
  const n = counted.records.get(tableId);
  for (const text of policy.brokenWalls.get(tableId) ?? [])
    found.push({
      kind: "closed",
      text: `${text} Until it is mended, no client sees ${table.name}.`,
      fix: "Choose another wall",
      place: { at: "wall", table: tableId },
    });
  if (wall.kind === "owned" && wall.path.length > 0 && table.kind === "ordinary" && n && n.ownerless > 0)
    found.push({
      kind: "closed",
      text: `${few(d, n.ownerless, `record of ${table.name} belongs`, `records of ${table.name} belong`)} to no company: ${pathWords(policy.schema, wall.path)} leads nowhere. No client sees ${n.ownerless === 1 ? "it" : "them"}.`,
      fix: "Show them",
      place: { at: "records", table: tableId },
    });
  if (wall.kind === "shared") {
    const open = policy
      .grantsOn(tableId)
      .filter((g) => !g.filter && g.actions.includes("see") && g.roles.some((r) => policy.role(r)?.side === "visitor"));
    if (open.length > 0 && (n?.all ?? 0) > 0)
      found.push({
        kind: "open",
        text: `Anybody sees every record of ${table.name}, signed in or not.`,
        fix: "Read the grant",
        place: { at: "grant", id: open[0]!.id },
      });
  }
  return found;
}

function ofGrant(policy: Policy, d: Definition, g: Definition["grants"][number], counted: Counted, names: Names): Finding[] {
  const place: Place = { at: "grant", id: g.id };
  const sentence = grantSentence(policy, g, names);
  const table = policy.schema.findTable(g.table);
  const broken = policy.broken.get(g.id);
  if (broken || !table)
    return [
      {
        kind: "closed",
        text: `A grant is broken and opens nothing: ${broken?.join(" ") ?? "its table is gone."} It reads: ${sentence}`,
        fix: "Mend the grant",
        place,
      },
    ];
  const found: Finding[] = [];
  const never = g.filter && contradiction(g.filter);
  if (never)
    found.push({
      kind: "idle",
      text: `A grant can never match: ${conditionWords(policy.schema, { kind: "all", of: [...never] }, names)} exclude each other. It reads: ${sentence}`,
      fix: "Change its filter",
      place,
    });
  else if (counted.matches.get(g.id) === 0 && (counted.records.get(g.table)?.all ?? 0) > 0)
    found.push({ kind: "idle", text: `A grant matches no record now: ${sentence}`, fix: "Look at its filter", place });
  const clients = g.roles.filter((r) => policy.role(r)?.side !== "agency");
  const closed = clients.length > 0 && policy.wall(g.table).kind === "agency-only" && !policy.brokenWalls.has(g.table);
  if (closed && waysToCompanies(policy.schema, table).length === 0)
    found.push({
      kind: "idle",
      text: `No relation leads from ${table.name} to a company, so none of its records can be a client's own, and this grant opens it to none: ${sentence}`,
      fix: "Add the relation",
      place,
    });
  else if (closed)
    found.push({
      kind: "idle",
      text: `${table.name} is the agency's alone, so this grant opens it to no client: ${sentence}`,
      fix: "Choose a wall",
      place: { at: "wall", table: g.table },
    });
  if (clients.length > 0 && g.actions.includes("see") && !g.fields.includes(table.labelFieldId))
    found.push({
      kind: "closed",
      text: `A grant shows records of ${table.name} without their ${policy.schema.field(table.labelFieldId).name}, so its lists name none of them: ${sentence}`,
      fix: "Change its fields",
      place,
    });
  if (g.feature && !d.plans.some((p) => p.features.includes(g.feature!)))
    found.push({
      kind: "idle",
      text: `No plan gives ${names.feature(g.feature) ?? g.feature}, which this grant needs: ${sentence}`,
      fix: "Change the grant",
      place,
    });
  if (g.actions.includes("change") && g.changes.length === 0)
    found.push({
      kind: "idle",
      text: `A grant lets records of ${table.name} be changed but lists no field to change: ${sentence}`,
      fix: "Change its fields",
      place,
    });
  const v = counted.valueless.get(g.id);
  if (v && v.without > 0)
    found.push({
      kind: "closed",
      text: `For ${v.without} of the ${few(d, v.people, "person", "people")} who hold it, this grant compares with a value that is empty, so it opens nothing to them: ${sentence}`,
      fix: "Read the grant",
      place,
    });
  return found;
}

function ofRoles(policy: Policy, d: Definition, counted: Counted): Finding[] {
  const cycles = roleCycles(d.roles);
  return d.roles.flatMap((r): Finding[] => {
    const found: Finding[] = [];
    if (cycles.includes(r.id))
      found.push({ kind: "open", text: `${r.name} includes itself through other roles.`, fix: "Open the roles", place: { at: "roles" } });
    if (r.side !== "visitor" && r.id !== EVERYONE && (counted.holders.get(r.id) ?? 0) === 0)
      found.push({
        kind: "idle",
        text: `Nobody holds the role ${r.name}${policy.rules.grants.some((g) => g.roles.includes(r.id)) ? ", though grants name it" : ""}.`,
        fix: "Open the roles",
        place: { at: "roles" },
      });
    return found;
  });
}
