"use server";
/** Several people at once: in or out, a role more or less. Who cannot be is named; the whole is undone as one act. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { actorOf } from "@/core/events/event";
import { transact } from "@/data/file/transact";
import { addMembership, membershipsOf, personFacts, setStatus } from "@/data/people/people";
import { jsonOf } from "@/identity/requests/takes";
import { officeCall } from "@/office/action";

const MOST = 5_000;
const asked = z.object({
  ids: z.array(z.string()).min(1).max(MOST),
  act: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("status"), status: z.enum(["active", "inactive"]) }),
    z.object({ kind: z.literal("role"), role: z.string(), give: z.boolean() }),
  ]),
});
export type ManyAct = z.infer<typeof asked>["act"];

const before = z.array(
  z.object({
    person: z.string(),
    status: z.enum(["active", "inactive"]).optional(),
    companyId: z.string().nullable().optional(),
    roles: z.array(z.string()).optional(),
  }),
);
export type Many = { ok: true; changed: number; left: { name: string; why: string }[]; undo: string } | { ok: false; message: string };

/** A role that is given drops no other; nobody's last role in a company is taken. */
export const changeMany = officeCall("people", [asked], async (p, given): Promise<Many> => {
  const { ids, act } = given;
  const role = act.kind === "role" ? p.live.definition.roles.find((r) => r.id === act.role) : undefined;
  if (act.kind === "role" && (!role || role.side === "visitor")) return { ok: false, message: "Choose a role." };
  const left: { name: string; why: string }[] = [];
  const undo: z.infer<typeof before> = [];
  transact(p.file, () => {
    for (const id of new Set(ids)) {
      const person = personFacts(p.file, id);
      if (!person) continue;
      if (act.kind === "status") {
        const from = act.status === "inactive" ? "active" : "inactive";
        if (person.status === act.status) continue;
        if (person.status !== from) left.push({ name: person.name, why: `is ${person.status}` });
        else {
          setStatus(p.file, actorOf(p.owner), id, act.status, p.now);
          undo.push({ person: id, status: from });
        }
        continue;
      }
      const there = membershipsOf(p.file, id).filter(
        (m) => (m.companyId === null) === (role!.side === "agency") && (!role!.companyId || role!.companyId === m.companyId),
      );
      if (there.length === 0)
        left.push({
          name: person.name,
          why: role!.side === "agency" ? "is not of the agency" : "belongs to no company that has this role",
        });
      for (const m of there) {
        const roles = act.give ? [...new Set([...m.roles, act.role])] : m.roles.filter((r) => r !== act.role);
        if (roles.length === m.roles.length) continue;
        if (roles.length === 0) left.push({ name: person.name, why: "would hold no role any more" });
        else {
          const done = addMembership(p.file, p.owner, id, m.companyId, roles);
          if (done.ok) undo.push({ person: id, companyId: m.companyId, roles: [...m.roles] });
          else left.push({ name: person.name, why: done.error.message });
        }
      }
    }
  });
  revalidatePath(p.at, "layout");
  return { ok: true, changed: new Set(undo.map((u) => u.person)).size, left, undo: JSON.stringify(undo) };
});

/** What somebody has changed since stays: only what still is as the act left it would be written over, and it is written as it was. */
export const undoMany = officeCall("people", [jsonOf(before)], async (p, undone): Promise<boolean> => {
  transact(p.file, () => {
    for (const u of undone) {
      if (!personFacts(p.file, u.person)) continue;
      if (u.status) setStatus(p.file, actorOf(p.owner), u.person, u.status, p.now);
      else if (u.roles && membershipsOf(p.file, u.person).some((m) => m.companyId === (u.companyId ?? null)))
        addMembership(p.file, p.owner, u.person, u.companyId ?? null, u.roles);
    }
  });
  revalidatePath(p.at, "layout");
  return true;
});
