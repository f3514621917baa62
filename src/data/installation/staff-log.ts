/** What staff did about staff, and about their own way in: who, when, to whom. */
import { desc } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { staff, staffEvents } from "@/data/file/control-tables";
import { control } from "@/data/file/open";

export interface StaffEvent {
  readonly at: number;
  readonly by: string;
  readonly act: string;
  readonly detail: string;
}

/** `by` is a member of staff's id. Within the caller's transaction, where there is one. */
export function noteStaff(by: string, act: string, now: number, about: { id: string; name: string } | null = null, more = ""): void {
  const detail = [about?.name, more].filter(Boolean).join(", ").slice(0, 300);
  control()
    .orm.insert(staffEvents)
    .values({ at: now, byId: by, act, aboutId: about?.id ?? null, detail })
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
    .map((e) => ({ at: e.at, by: names.get(e.byId) ?? "somebody who is gone", act: e.act, detail: e.detail }));
}
