"use server";
/** Roles in the draft: made, renamed, copied, retired. People hold roles by id, so a new name changes nothing for them. */
import { z } from "zod";
import { roleSchema } from "@/core/definition/parts/access";
import { draftOf } from "@/data/definition/draft";
import { newId } from "@/data/file/ids";
import { roleHolders } from "@/data/people/accounts";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { whole, word } from "@/identity/requests/takes";
import { officeCall } from "@/office/action";
import { changeInDraft } from "@/office/draft";

const roleInput = z.object({
  id: z.string().nullable(),
  revision: z.number().int(),
  name: z.string(),
  side: z.enum(["agency", "client", "visitor"]),
  includes: z.array(z.string()).max(20),
  companyId: z.string().nullable(),
  about: z.string(),
});
export type RoleInput = z.infer<typeof roleInput>;
export type RoleAnswer = { ok: true } | { ok: false; errors: Partial<Record<"name" | "includes" | "about" | "form", string>> };

function answer(p: OfficePortal, revision: number, edit: Parameters<typeof changeInDraft>[2], what: string): RoleAnswer {
  const done = changeInDraft(p, revision, edit, what);
  return done.ok ? done : { ok: false, errors: { form: done.messages.join(" ") } };
}

export const saveRole = officeCall("build", [roleInput], async (p, input): Promise<RoleAnswer> => {
  const r = input;
  const { definition } = draftOf(p.file, p.owner);
  const before = definition.roles.find((x) => x.id === r.id);
  const clean = roleSchema.safeParse({
    id: before?.id ?? `r_${newId().replaceAll("-", "")}`,
    name: r.name,
    // People hold a role on its side; a role that changed sides would carry them over the wall.
    side: before?.side ?? r.side,
    includes: r.includes,
    companyId: (before?.side ?? r.side) === "client" ? r.companyId : null,
    about: r.about.trim(),
  });
  if (!clean.success) {
    const at = (field: string) => clean.error.issues.find((i) => i.path[0] === field)?.message;
    return { ok: false, errors: { name: at("name"), about: at("about") && "Keep it under 300 characters.", includes: at("includes") } };
  }
  const role = clean.data;
  if (definition.roles.some((x) => x.id !== role.id && x.name.toLowerCase() === role.name.toLowerCase()))
    return { ok: false, errors: { name: `There is a role called ${role.name} already.` } };
  const foreign = role.includes.map((id) => definition.roles.find((x) => x.id === id)).find((x) => x && x.side !== role.side);
  if (foreign) return { ok: false, errors: { includes: `${foreign.name} is on another side; a role includes roles of its own side.` } };
  const circle = circleWords(definition.roles, role);
  if (circle) return { ok: false, errors: { includes: circle } };
  const roles = before ? definition.roles.map((x) => (x.id === role.id ? role : x)) : [...definition.roles, role];
  return answer(p, r.revision, (d) => ({ ...d, roles }), `${before ? "the role" : "the new role"} ${role.name}`);
});

/** "Lead includes Member, which includes Lead": told before the draft is touched. */
function circleWords(
  roles: readonly { id: string; name: string; includes: readonly string[] }[],
  changed: { id: string; name: string; includes: readonly string[] },
): string | null {
  const byId = new Map(roles.map((r) => [r.id, r]));
  byId.set(changed.id, changed);
  const way = (from: string, seen: readonly string[]): readonly string[] | null => {
    for (const next of byId.get(from)?.includes ?? []) {
      if (next === changed.id) return [...seen, next];
      if (seen.includes(next)) continue;
      const found = way(next, [...seen, next]);
      if (found) return found;
    }
    return null;
  };
  const found = way(changed.id, []);
  const names = found?.map((id) => byId.get(id)!.name);
  return names ? `${changed.name} would include itself: ${[changed.name, ...names].join(", which includes ")}.` : null;
}

/** A copy has the same includes, and stands beside the original in every grant. */
export const copyRole = officeCall("build", [word, whole], async (p, id, revision): Promise<RoleAnswer> => {
  const { definition } = draftOf(p.file, p.owner);
  const from = definition.roles.find((r) => r.id === id);
  if (!from) return { ok: false, errors: { form: "This role is gone already." } };
  const taken = new Set(definition.roles.map((r) => r.name.toLowerCase()));
  let name = `${from.name.slice(0, 70)} copy`;
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${from.name.slice(0, 70)} copy ${n}`;
  const copy = { ...from, id: `r_${newId().replaceAll("-", "")}`, name };
  return answer(
    p,
    revision,
    (d) => ({
      ...d,
      roles: [...d.roles, copy],
      grants: d.grants.map((g) => (g.roles.includes(id) ? { ...g, roles: [...g.roles, copy.id] } : g)),
    }),
    `copying the role ${from.name}`,
  );
});

/** Out of the draft with what only it had. Refused while somebody holds it: they would lose everything without a word. */
export const retireRole = officeCall("build", [word, whole], async (p, id, revision): Promise<RoleAnswer> => {
  const { definition } = draftOf(p.file, p.owner);
  const role = definition.roles.find((r) => r.id === id);
  if (!role) return { ok: false, errors: { form: "This role is gone already." } };
  const held = roleHolders(p.file, p.owner).get(id) ?? 0;
  if (held > 0)
    return {
      ok: false,
      errors: { form: `${held === 1 ? "One person holds" : `${held} people hold`} the role ${role.name}. Give them another role first.` },
    };
  return answer(
    p,
    revision,
    (d) => ({
      ...d,
      roles: d.roles.filter((r) => r.id !== id).map((r) => ({ ...r, includes: r.includes.filter((x) => x !== id) })),
      grants: d.grants.flatMap((g) => {
        const roles = g.roles.filter((r) => r !== id);
        return roles.length > 0 ? [{ ...g, roles }] : [];
      }),
    }),
    `retiring the role ${role.name}`,
  );
});
