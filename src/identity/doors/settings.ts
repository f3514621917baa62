/** Which doors a portal has open, and for whom it asks more. They count from the next sign-in on; nobody who is in is put out. */
import { eq } from "drizzle-orm";
import { z } from "zod";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { settings } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";

export const DOOR_IDS = ["password", "link", "mail-code", "sms-code", "passkey", "outside", "standing"] as const;
export type DoorId = (typeof DOOR_IDS)[number];

const door = z.enum(DOOR_IDS);
const shape = z.object({
  open: z.array(door),
  /** Whether everybody has a second factor, or whoever likes. */
  second: z.enum(["whoever likes", "everybody"]),
  /** Roles that ask for more: their people come in by these doors alone (all that are open, where none is named). */
  roles: z.record(z.string(), z.object({ doors: z.array(door), second: z.boolean() })),
  /** The field of People that holds telephone numbers; null takes the first of that type. */
  telephone: z.string().nullable(),
  /** People may have a name to sign in by, with or without an e-mail address. */
  names: z.boolean().default(false),
  /** Tables that roles land on after signing in, where they were going nowhere else. */
  landing: z.record(z.string(), z.string()).default({}),
});
export type DoorSettings = z.infer<typeof shape>;

export const AT_FIRST: DoorSettings = {
  open: ["password", "link", "mail-code", "passkey"],
  second: "whoever likes",
  roles: {},
  telephone: null,
  names: false,
  landing: {},
};

export function doorSettings(file: PortalFile): DoorSettings {
  const row = file.orm.select().from(settings).where(eq(settings.key, "doors")).get();
  const parsed = row && shape.safeParse(JSON.parse(row.value));
  return parsed?.success ? parsed.data : AT_FIRST;
}

/** Doors that somebody can begin at, without having set anything up inside. */
const FIRST: readonly DoorId[] = ["password", "link", "mail-code", "sms-code", "outside"];

/** A sentence where nobody, or nobody of a role, could come in any more. */
export function keepDoors(file: PortalFile, owner: Owner, given: unknown): Result<DoorSettings, string> {
  const parsed = shape.safeParse(given);
  if (!parsed.success) return err("This could not be read. Load the page anew.");
  const s = parsed.data;
  if (!s.open.some((d) => FIRST.includes(d))) return err("Leave one door open that people can begin at: a passkey is made inside.");
  const { roles } = published(file).definition;
  for (const [id, r] of Object.entries(s.roles)) {
    const name = roles.find((x) => x.id === id)?.name;
    if (!name) delete s.roles[id];
    else if (r.doors.length > 0 && !r.doors.some((d) => s.open.includes(d)))
      return err(`Nobody who is ${name} could come in: open one of their doors, or let them use all.`);
  }
  const row = { key: "doors", value: JSON.stringify(s) };
  transact(file, () => {
    file.orm.insert(settings).values(row).onConflictDoUpdate({ target: settings.key, set: row }).run();
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "doors-changed" });
  });
  return ok(s);
}

export interface Asked {
  readonly doors: readonly DoorId[];
  readonly second: boolean;
}

/** What somebody with these roles comes in by. Where roles differ, what is common to them. */
export function askedOf(s: DoorSettings, roles: readonly string[]): Asked {
  let doors: readonly DoorId[] = s.open;
  let second = s.second === "everybody";
  for (const id of roles) {
    const more = s.roles[id];
    if (!more) continue;
    second ||= more.second;
    if (more.doors.length > 0) doors = doors.filter((d) => more.doors.includes(d));
  }
  return { doors, second };
}
