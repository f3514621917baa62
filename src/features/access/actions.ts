"use server";
/** Changing the draft: grants and walls. Nothing holds for anybody until it is published. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { ACTIONS } from "@/core/access/rules";
import { grantSchema, wallSchema } from "@/core/definition/parts/access";
import { actorOf } from "@/core/events/event";
import { type DraftProblem, fromDraft, sentFilter } from "@/core/filter/edit";
import { discardDraft, draftOf } from "@/data/definition/draft";
import { bringBack } from "@/data/definition/versions";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import { publish } from "@/data/publishing/publish";
import { addField } from "@/data/tables/change";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { jsonOf, whole, word } from "@/identity/requests/takes";
import { tellNews } from "@/letters/news";
import { officeAction, officeCall } from "@/office/action";
import { changeInDraft, type DraftAnswer } from "@/office/draft";
import type { Undoable } from "@/ui/undoable-button";
import { upheld } from "./safeguards";

const grantInput = z.object({
  id: z.string().nullable(),
  revision: z.number().int(),
  table: z.string(),
  roles: z.array(z.string()),
  actions: z.array(z.enum(ACTIONS)),
  fields: z.array(z.string()),
  changes: z.array(z.string()),
  namesOnly: z.array(z.string()),
  acts: z.array(z.string()).max(200),
  feature: z.string().nullable(),
  filter: sentFilter,
  validFrom: z.iso.date().nullable(),
  validUntil: z.iso.date().nullable(),
});
export type GrantInput = z.infer<typeof grantInput>;

const tableName = (p: OfficePortal, id: string): string => p.live.policy.schema.findTable(id)?.name ?? "a removed table";

/** Problems of the filter stand beside the test that they speak of; the others above the form. */
export type GrantAnswer = { ok: true } | { ok: false; messages: string[]; problems?: DraftProblem[] };

export const saveGrant = officeAction("build", [grantInput], async (p, g): Promise<GrantAnswer> => {
  const table = p.live.policy.schema.findTable(g.table);
  if (!table) return { ok: false, messages: ["The table of this grant is gone."] };
  const filter = fromDraft(g.filter, table, p.live.policy.schema);
  if (!filter.ok) return { ok: false, messages: ["The filter is not whole yet: see beside its tests."], problems: filter.error };
  if (g.validFrom && g.validUntil && g.validUntil < g.validFrom) return { ok: false, messages: ["The last day comes before the first."] };
  return changeInDraft(
    p,
    g.revision,
    (d) => {
      const before = d.grants.find((x) => x.id === g.id);
      const grant = {
        id: before?.id ?? `g_${newId().replaceAll("-", "")}`,
        roles: g.roles,
        table: g.table,
        actions: g.actions,
        fields: g.fields,
        changes: g.changes,
        ...(g.acts.length > 0 ? { acts: g.acts } : {}),
        ...(g.namesOnly.length > 0 ? { namesOnly: g.namesOnly.filter((f) => g.fields.includes(f)) } : {}),
        feature: g.feature,
        filter: filter.value,
        validFrom: g.validFrom,
        validUntil: g.validUntil,
      };
      return { ...d, grants: before ? d.grants.map((x) => (x.id === g.id ? grant : x)) : [...d.grants, grant] };
    },
    `${g.id ? "a grant" : "a new grant"} on ${tableName(p, g.table)}`,
  );
});

export const removeGrant = officeAction("build", [word, whole], async (p, id, revision): Promise<Undoable> => {
  const grant = draftOf(p.file, p.owner).definition.grants.find((g) => g.id === id);
  if (!grant) return { ok: false, messages: ["This grant is gone already."] };
  const done = changeInDraft(
    p,
    revision,
    (d) => ({ ...d, grants: d.grants.filter((g) => g.id !== id) }),
    `removing a grant on ${tableName(p, grant.table)}`,
  );
  return done.ok ? { ok: true, undo: JSON.stringify(grant) } : done;
});

/** Undo of a removal; the grant is parsed and checked like any other. */
export const restoreGrant = officeAction("build", [jsonOf(grantSchema)], async (p, grant): Promise<DraftAnswer> => {
  const { revision } = draftOf(p.file, p.owner);
  return changeInDraft(
    p,
    revision,
    (d) => ({ ...d, grants: [...d.grants.filter((g) => g.id !== grant.id), grant] }),
    `bringing back a grant on ${tableName(p, grant.table)}`,
  );
});

export const setWall = officeAction("build", [word, wallSchema, whole], async (p, tableId, wall, revision): Promise<DraftAnswer> => {
  if (!p.live.policy.schema.findTable(tableId)) return { ok: false, messages: ["Choose a wall from the list."] };
  return changeInDraft(p, revision, (d) => ({ ...d, walls: { ...d.walls, [tableId]: wall } }), `the wall of ${tableName(p, tableId)}`);
});

export const bringVersionBack = officeCall("build", [z.instanceof(FormData)], async (p, data): Promise<void> => {
  const done = bringBack(p.file, p.owner, Number(data.get("revision")), Number(data.get("version")));
  revalidatePath(p.at, "layout");
  redirect(`${p.at}/publish${done.ok ? "" : "?stale=1"}`);
});

export const publishDraft = officeCall("build", [z.instanceof(FormData)], async (p, data): Promise<void> => {
  const note = String(data.get("note") ?? "")
    .trim()
    .slice(0, 500);
  const checked = await upheld(p);
  revalidatePath(p.at, "layout");
  if (checked.draft.revision !== Number(data.get("revision"))) redirect(`${p.at}/publish?stale=1`);
  // The page itself names the safeguards that are broken.
  if (typeof checked.upheld === "string") redirect(`${p.at}/publish?waits=${checked.upheld}`);
  const done = publish(p.file, p.owner, checked.upheld, note);
  revalidatePath(p.at, "layout");
  if (!done.ok) redirect(`${p.at}/publish?stale=1`);
  const news = {
    roles: data.getAll("tell").map(String).slice(0, 100),
    words: String(data.get("news") ?? "").slice(0, 5_000),
    by: p.staff.name,
  };
  const told = await tellNews(p.file, p.owner, news, p.now);
  redirect(`${p.at}/publish?done=1&told=${told}`);
});

export const throwDraftAway = officeCall("build", [], async (p): Promise<void> => {
  if (draftOf(p.file, p.owner).changed) discardDraft(p.file, p.owner);
  revalidatePath(p.at, "layout");
  redirect(`${p.at}/publish`);
});

/** Where no relation leads from a table to companies, one is added: tables change at once, and only by adding. */
export const addCompanyRelation = officeAction("build", [word], async (p, tableId): Promise<DraftAnswer> => {
  const { schema } = p.live.policy;
  const table = schema.findTable(tableId);
  if (table?.kind !== "ordinary") return { ok: false, messages: ["A relation can be added to a table of your own."] };
  if (table.fields.some((f) => f.options.target === schema.companies.id))
    return { ok: false, messages: [`${table.name} leads to Companies already.`] };
  const slugs = new Set(table.fields.map((f) => f.slug));
  const free = ["company", "client-company", "company-2", "company-3"].find((s) => !slugs.has(s));
  if (!free) return { ok: false, messages: ["Every name for the relation is taken. Rename a field first."] };
  addField(p.file, table.id, { slug: free, name: "Company", type: "relation", options: { target: schema.companies.id } });
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "field-added", table: table.id, detail: "Company" });
  revalidatePath(p.at, "layout");
  return { ok: true };
});
