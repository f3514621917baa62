/** What a key is kept to: by table, what may be done there at most, whatever its roles open beside that. */
import { ACTIONS, type Action, actIdOf, type Doing } from "../rules";

/** All acts of a table's own are one. */
export const KEY_ACTIONS = [...ACTIONS, "act"] as const;
export type KeyAction = (typeof KEY_ACTIONS)[number];

/** By the id of the table. A table that is not in it is shut. */
export type Within = Readonly<Record<string, readonly KeyAction[]>>;

export const isWithin = (within: Within, table: string, doing: Doing): boolean =>
  Object.hasOwn(within, table) && within[table]!.includes(actIdOf(doing) === null ? (doing as Action) : "act");
