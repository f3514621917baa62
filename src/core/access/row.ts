/** A record as the matcher reads it, and the way from it to others. */
import type { Value, Values } from "../schema/types";

export interface Row {
  readonly id: string;
  readonly table: string;
  /** Stored by the system for owned tables; null where the path is broken or the table is not owned. */
  readonly companyId: string | null;
  readonly values: Values;
}

export interface World {
  row(table: string, id: string): Row | undefined;
}

/** Ids that a relation field points to, as a list whatever its kind. */
export function linked(value: Value | undefined): readonly string[] {
  if (value === null || value === undefined || value === "") return [];
  return Array.isArray(value) ? (value as readonly string[]) : [String(value)];
}
