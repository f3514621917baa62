/** What every change of tables and fields by hand shares: it is whole or not at all, and says why not. */

import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { err, type Result } from "@/core/result";
import { record } from "../events/record";
import { attempt, orRefuse } from "../file/attempt";
import type { PortalFile } from "../file/open";
import { nextNumber } from "../tables/meta";

export type ShapeError = { code: "stale" } | { code: "refused"; message: string; field?: string };
export type Done<T = null> = Result<T, ShapeError>;

export const refused = (message: string, field?: string) => err<ShapeError>({ code: "refused", message, ...(field ? { field } : {}) });
export const touched = (file: PortalFile): void => void nextNumber(file, "schema_version");
export const noted = (file: PortalFile, owner: Owner, kind: EventKind, table: string, detail: string): void =>
  void record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind, table, detail });

/** Nothing of it stays where it is refused. */
export const shaping = <T>(file: PortalFile, work: () => Done<T>): Done<T> => attempt(file, () => orRefuse(work()));
