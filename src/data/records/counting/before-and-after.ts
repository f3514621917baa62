/** Two viewers' reach in one table, counted: for the owner's eyes. */
import type { Policy } from "@/core/access/policy";
import { all, not } from "@/core/access/predicate";
import { knownFields, scope } from "@/core/access/scope";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import type { PortalFile } from "../../file/open";
import { countWhere } from "./count-many";

export interface Compared {
  readonly one: number;
  readonly other: number;
  readonly both: number;
  /** Names of fields that only one of them may see there. */
  readonly fieldsOfOne: readonly string[];
  readonly fieldsOfOther: readonly string[];
}

/** How many records and fields of a table one viewer gains and loses against another, with some of them. */
export function compareOn(file: PortalFile, policy: Policy, _owner: Owner, one: Viewer, other: Viewer, table: string): Compared {
  const [a, b] = [scope(policy, one, table).predicate, scope(policy, other, table).predicate];
  const count = (p: typeof a): number => countWhere(file, policy.schema, table, p);
  const [known, alsoKnown] = [knownFields(policy, one, table), knownFields(policy, other, table)];
  const name = (id: string): string => policy.schema.field(id).name;
  const onlyOne = count(all([a, not(b)]));
  const first = count(a);
  return {
    one: first,
    other: count(b),
    both: first - onlyOne,
    fieldsOfOne: known.filter((f) => !alsoKnown.includes(f)).map(name),
    fieldsOfOther: alsoKnown.filter((f) => !known.includes(f)).map(name),
  };
}
