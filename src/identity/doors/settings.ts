import { z } from "zod";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { keepSetting, settingOf } from "@/data/file/settings";
import { transact } from "@/data/file/transact";

interface DoorNature {
  /** Somebody can begin here, without having set anything up inside. */
  readonly begins: boolean;
  /** What whoever came through has shown. A stay is a link that is good for long: it proves nothing new, and must not outlast itself. */
  readonly shows: "secret" | "mail" | "telephone" | "device" | "organisation" | "stay";
}

/** A new door is a line here; what it means for fresh sign-ins, forgotten factors and settings follows from its nature. */
export const DOORS = {
  password: { begins: true, shows: "secret" },
  link: { begins: true, shows: "mail" },
  "mail-code": { begins: true, shows: "mail" },
  "sms-code": { begins: true, shows: "telephone" },
  passkey: { begins: false, shows: "device" },
  outside: { begins: true, shows: "organisation" },
  standing: { begins: false, shows: "stay" },
} as const satisfies Record<string, DoorNature>;

export type DoorId = keyof typeof DOORS;
export const DOOR_IDS = Object.keys(DOORS) as [DoorId, ...DoorId[]];
/** What sessions say of how they began may be older than this list: nothing is shown by a door that nobody knows. */
const shown = (id: string): DoorNature["shows"] | null => (Object.hasOwn(DOORS, id) ? DOORS[id as DoorId].shows : null);
/** Whether whoever came by it reads the mail of that person. */
export const showsMail = (id: string): boolean => shown(id) === "mail";
/** Whether whoever came by it holds a link that stays. */
export const isStay = (id: string): boolean => shown(id) === "stay";

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

/** How people may sign in, as the owner set it; what is not set is as it begins. */
export function doorSettings(file: PortalFile): DoorSettings {
  return settingOf(file, "doors", shape, AT_FIRST);
}

/** A sentence where nobody, or nobody of a role, could come in any more. */
export function keepDoors(file: PortalFile, owner: Owner, given: unknown): Result<DoorSettings, string> {
  const parsed = shape.safeParse(given);
  if (!parsed.success) return err("This could not be read. Load the page anew.");
  const s = parsed.data;
  if (!s.open.some((d) => DOORS[d].begins)) return err("Leave one door open that people can begin at: a passkey is made inside.");
  const { roles } = published(file).definition;
  for (const [id, r] of Object.entries(s.roles)) {
    const name = roles.find((x) => x.id === id)?.name;
    if (!name) delete s.roles[id];
    else if (r.doors.length > 0 && !r.doors.some((d) => s.open.includes(d)))
      return err(`Nobody who is ${name} could come in: open one of their doors, or let them use all.`);
  }
  transact(file, () => {
    keepSetting(file, "doors", s);
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
