/** Who works in the back office: asked in by a link that works once, with one of its roles. At least one owner stays. */
import { and, eq, gt, ne } from "drizzle-orm";
import { isOfficeRole } from "@/core/access/who/office";
import type { Owner } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import { isEmail } from "@/core/text/email";
import { fold } from "@/core/text/fold";
import { staff, staffInvitations, staffSessions } from "@/data/file/control-tables";
import { newId } from "@/data/file/ids";
import { control } from "@/data/file/open";
import { noteStaff } from "@/data/installation/staff-log";
import { removeSecond, secondState } from "@/identity/factors/second";
import { liftStop } from "@/identity/factors/try-second";
import { beginStaffSession, officeShelf } from "@/identity/office/sessions";
import { hashPassword, passwordProblem } from "@/identity/passwords/passwords";
import { newToken, tokenHash } from "@/identity/secrets/secrets";
import type { SessionStep } from "@/identity/sessions/sessions";

export interface StaffRow {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly role: string;
  readonly status: string;
  readonly second: boolean;
}

/** Everybody of the staff. */
export const staffList = (_owner: Owner): StaffRow[] =>
  control()
    .orm.select({ id: staff.id, name: staff.name, email: staff.email, role: staff.role, status: staff.status })
    .from(staff)
    .orderBy(staff.createdAt)
    .all()
    .map((s) => ({ ...s, second: secondState(officeShelf(), s.id).since !== null }));

/** Who is told of what concerns the installation. */
export const ownersOf = (): { readonly id: string; readonly name: string; readonly email: string }[] =>
  control()
    .orm.select({ id: staff.id, name: staff.name, email: staff.email })
    .from(staff)
    .where(and(eq(staff.role, "owner"), eq(staff.status, "active")))
    .all();

const byOf = (owner: Owner): string => owner.person?.id ?? "owner";

export interface StaffError {
  readonly field: "name" | "email" | "role" | null;
  readonly message: string;
}

/** Milliseconds. */
const INVITED_FOR = 7 * 86_400_000;

/** Invites somebody new, or again somebody who has not signed in yet; their earlier links stop working. The token is for the link. */
export function inviteStaff(
  owner: Owner,
  given: { readonly name: string; readonly email: string; readonly role: string },
): Result<{ id: string; token: string }, StaffError> {
  const { orm } = control();
  const name = given.name.normalize("NFC").trim();
  const email = fold(given.email.trim());
  if (!name || name.length > 120) return err({ field: "name", message: "Give them a name of up to 120 characters." });
  if (!isEmail(email)) return err({ field: "email", message: "Write an e-mail address like dana@agency.example." });
  if (!isOfficeRole(given.role)) return err({ field: "role", message: "Choose a role." });
  const { role } = given;
  return orm.transaction((tx) => {
    const there = tx.select().from(staff).where(eq(staff.email, email)).get();
    if (there && there.status !== "invited") return err({ field: "email", message: `${there.name} works here already with that address.` });
    const id = there?.id ?? newId();
    // No password opens this account: there is none yet.
    const row = { id, name, email, role, status: "invited", hash: "none", createdAt: new Date(owner.now).toISOString() };
    tx.insert(staff).values(row).onConflictDoUpdate({ target: staff.id, set: { name, role } }).run();
    const token = newToken();
    const link = { hash: tokenHash(token), staffId: id, expiresAt: owner.now + INVITED_FOR };
    tx.insert(staffInvitations).values(link).onConflictDoUpdate({ target: staffInvitations.staffId, set: link }).run();
    noteStaff(byOf(owner), "invited", owner.now, row, role);
    return ok({ id, token });
  });
}

/** Milliseconds. */
const FORGOTTEN_FOR = 30 * 60_000;

/** For who has forgotten their password: a token for the address that is known; undefined where nobody active has it. */
export function forgottenStaff(email: string, now: number): { name: string; email: string; token: string } | undefined {
  const { orm } = control();
  const row = orm
    .select()
    .from(staff)
    .where(and(eq(staff.email, fold(email.trim())), eq(staff.status, "active")))
    .get();
  if (!row) return undefined;
  const token = newToken();
  const link = { hash: tokenHash(token), staffId: row.id, expiresAt: now + FORGOTTEN_FOR };
  orm.insert(staffInvitations).values(link).onConflictDoUpdate({ target: staffInvitations.staffId, set: link }).run();
  return { name: row.name, email: row.email, token };
}

const invitedBy = (token: string, now: number) =>
  and(eq(staffInvitations.hash, tokenHash(token)), gt(staffInvitations.expiresAt, now), ne(staff.status, "inactive"));

/** Whom it invites; looking uses nothing up. */
export const staffInvited = (token: string, now: number): { id: string; name: string; email: string; status: string } | undefined =>
  control()
    .orm.select({ id: staff.id, name: staff.name, email: staff.email, status: staff.status })
    .from(staffInvitations)
    .innerJoin(staff, eq(staff.id, staffInvitations.staffId))
    .where(invitedBy(token, now))
    .get();

/** Once: of two at the same moment one is in. */
export async function acceptStaff(
  token: string,
  password: string,
  now: number,
): Promise<Result<{ token: string; step: SessionStep }, string>> {
  const who = staffInvited(token, now);
  if (!who) return err("This link does not open the door any more. Ask for a fresh one.");
  const problem = passwordProblem(password, [who.name, who.email]);
  if (problem) return err(problem);
  const hash = await hashPassword(password);
  const done = control().orm.transaction((tx) => {
    if (
      tx
        .delete(staffInvitations)
        .where(eq(staffInvitations.hash, tokenHash(token)))
        .run().changes !== 1
    )
      return false;
    return (
      tx
        .update(staff)
        .set({ hash, status: "active" })
        .where(and(eq(staff.id, who.id), ne(staff.status, "inactive")))
        .run().changes === 1
    );
  });
  if (!done) return err("This link has been used in the meantime.");
  noteStaff(who.id, who.status === "invited" ? "came-in" : "password-chosen", now);
  // Whoever else was in by the former password is out. A second factor is asked for all the same.
  control().orm.delete(staffSessions).where(eq(staffSessions.staffId, who.id)).run();
  // The link came by mail: a stop that wrong codes brought about is lifted, and the code is asked for all the same.
  liftStop(officeShelf(), who.id);
  const step = secondState(officeShelf(), who.id).since === null ? "in" : "second";
  return ok({ token: beginStaffSession(who.id, now, step), step });
}

/** A role, or being here at all; rights are read at each request, so it counts at once. Null where it is done. */
export function changeStaff(owner: Owner, id: string, change: { role?: string; status?: "active" | "inactive" }): string | null {
  const { orm } = control();
  return orm.transaction((tx) => {
    const row = tx.select().from(staff).where(eq(staff.id, id)).get();
    if (!row) return "Nobody by that name works here any more.";
    if (change.role !== undefined && !isOfficeRole(change.role)) return "Choose a role.";
    if (change.status && row.status === "invited") return `${row.name} has not come in yet.`;
    const owners = tx
      .select({ id: staff.id })
      .from(staff)
      .where(and(eq(staff.role, "owner"), eq(staff.status, "active")))
      .all();
    const stays = (change.role ?? row.role) === "owner" && (change.status ?? row.status) === "active";
    if (!stays && owners.length === 1 && owners[0]!.id === id) return "At least one owner stays: make somebody else an owner first.";
    tx.update(staff).set(change).where(eq(staff.id, id)).run();
    noteStaff(byOf(owner), change.status ? (`made-${change.status}` as const) : "role-given", owner.now, row, change.role ?? "");
    if (change.status === "inactive") tx.delete(staffSessions).where(eq(staffSessions.staffId, id)).run();
    return null;
  });
}

/** An invitation that was not taken up is taken back, and with it whoever it was for. */
export function withdrawStaff(owner: Owner, id: string): boolean {
  return control().orm.transaction((tx) => {
    const row = tx.select().from(staff).where(eq(staff.id, id)).get();
    if (row?.status === "invited") noteStaff(byOf(owner), "invitation-withdrawn", owner.now, row);
    tx.delete(staffInvitations).where(eq(staffInvitations.staffId, id)).run();
    return (
      tx
        .delete(staff)
        .where(and(eq(staff.id, id), eq(staff.status, "invited")))
        .run().changes === 1
    );
  });
}

/** For somebody who has lost theirs; recorded. */
export function takeStaffSecond(owner: Owner, id: string): void {
  const row = control().orm.select().from(staff).where(eq(staff.id, id)).get();
  if (!row) return;
  removeSecond(officeShelf(), id);
  noteStaff(byOf(owner), "second-factor-taken", owner.now, row);
}
