/** What staff did about staff, and about their own way in: who, when, to whom. */

import { desc } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { type StaffKind, staffWords } from "@/core/events/staff-kinds";
import { staff, staffEvents } from "@/data/file/control-tables";
import { control } from "@/data/file/open";

export interface StaffEvent {
  readonly id: number;
  readonly at: number;
  readonly by: string;
  /** In words, after who did it and before to whom. */
  readonly says: string;
  readonly detail: string;
}

/** `by` is a member of staff's id. Within the caller's transaction, where there is one. */
export function noteStaff(by: string, kind: StaffKind, now: number, about: { id: string; name: string } | null = null, more = ""): void {
  const detail = [about?.name, more].filter(Boolean).join(", ").slice(0, 300);
  control()
    .orm.insert(staffEvents)
    .values({ at: now, byId: by, act: kind, aboutId: about?.id ?? null, detail })
    .run();
}

/** The latest first. */
export function staffLog(_owner: Owner, most = 100): StaffEvent[] {
  const { orm } = control();
  const names = new Map(
    orm
      .select({ id: staff.id, name: staff.name })
      .from(staff)
      .all()
      .map((s) => [s.id, s.name]),
  );
  return orm
    .select()
    .from(staffEvents)
    .orderBy(desc(staffEvents.id))
    .limit(most)
    .all()
    .map((e) => ({ id: e.id, at: e.at, by: names.get(e.byId) ?? "somebody who is gone", says: staffWords(e.act), detail: e.detail }));
}
