"use server";
/** Changing the draft: grants and walls. Nothing holds for anybody until it is published. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import type { Condition, Operand } from "@/core/access/condition";
import { ACTIONS, type Wall } from "@/core/access/policy";
import { grantSchema, wallSchema } from "@/core/definition";
import { readCell } from "@/core/exchange/cells";
import { type Operator, takesList, takesNoValue } from "@/core/schema/operators";
import type { Schema } from "@/core/schema/types";
import { changeDraft, discardDraft, draftOf, publish } from "@/data/definitions";
import { newId } from "@/data/ids";
import { bringBack, moveDraft } from "@/data/versions";
import { type OfficePortal, officePortalWrite } from "@/identity/office-gate";

const testInput = z.object({
  path: z.array(z.string()).min(1).max(4),
  operator: z.string(),
  value: z.string().max(4000),
  from: z.enum(["literal", "person", "company", "date"]),
  field: z.string().nullable(),
});
const grantInput = z.object({
  id: z.string().nullable(),
  revision: z.number().int(),
  table: z.string(),
  roles: z.array(z.string()),
  actions: z.array(z.enum(ACTIONS)),
  fields: z.array(z.string()),
  changes: z.array(z.string()),
  feature: z.string().nullable(),
  tests: z.array(testInput).max(20),
  /** A filter deeper than this editor shows is kept as it is. */
  keepFilter: z.boolean(),
});
export type GrantInput = z.infer<typeof grantInput>;
export type AccessAnswer = { ok: true } | { ok: false; messages: string[] };

const tableName = (p: OfficePortal, id: string): string => p.live.policy.schema.findTable(id)?.name ?? "a removed table";

const STALE = "Somebody changed the draft meanwhile. Load the page again; what you chose here is not lost until you do.";

/** Values are typed by the field that is tested; a bad one is a sentence, not a grant that matches nothing. */
function testOf(schema: Schema, t: z.infer<typeof testInput>): Condition | string {
  const operator = t.operator as Operator;
  const last = t.path[t.path.length - 1]!;
  const test = (operands: Operand[]): Condition => ({ kind: "test", path: t.path, operator, operands });
  if (takesNoValue(operator)) return test([]);
  if (t.from === "person" || t.from === "company") return test([{ kind: "viewer", of: t.from, field: t.field }]);
  const field = schema.findField(last);
  if (!field) return last === "self" ? "Compare the record itself with something of the person." : "Choose a field to test.";
  if (t.from === "date") {
    const days = Number(t.value || "0");
    return Number.isInteger(days) ? test([{ kind: "date", anchor: "today", days }]) : "Write a whole number of days, such as -30.";
  }
  const single = {
    ...field,
    type: field.type === "relations" ? ("relation" as const) : field.type === "choices" ? ("choice" as const) : field.type,
  };
  const parts =
    takesList(operator) || operator === "between"
      ? t.value
          .split(";")
          .map((x) => x.trim())
          .filter(Boolean)
      : [t.value];
  const values: (string | number | boolean)[] = [];
  for (const part of parts) {
    const read = readCell(single, part);
    if (!read.ok) return `${field.name}: ${read.error}`;
    if (read.value !== null) values.push(read.value as string | number | boolean);
  }
  if (values.length === 0) return `${field.name}: write a value to compare with.`;
  if (operator === "between")
    return values.length === 2
      ? test(values.map((value) => ({ kind: "literal", value })))
      : `${field.name}: write two values with a semicolon between.`;
  return test([{ kind: "literal", value: takesList(operator) ? values : values[0]! }]);
}

export async function saveGrant(slug: string, input: GrantInput): Promise<AccessAnswer> {
  const p = await officePortalWrite(slug);
  const parsed = grantInput.safeParse(input);
  if (!parsed.success) return { ok: false, messages: ["This grant could not be read. Load the page again."] };
  const g = parsed.data;
  const tests = g.tests.map((t) => testOf(p.live.policy.schema, t));
  const wrong = tests.filter((t): t is string => typeof t === "string");
  if (wrong.length > 0) return { ok: false, messages: wrong };
  const given = tests as Condition[];
  const written: Condition | null = given.length === 0 ? null : given.length === 1 ? given[0]! : { kind: "all", of: given };
  return change(
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
        feature: g.feature,
        filter: g.keepFilter ? (before?.filter ?? null) : written,
        validFrom: before?.validFrom ?? null,
        validUntil: before?.validUntil ?? null,
      };
      return { ...d, grants: before ? d.grants.map((x) => (x.id === g.id ? grant : x)) : [...d.grants, grant] };
    },
    `${g.id ? "a grant" : "a new grant"} on ${tableName(p, g.table)}`,
  );
}

export async function removeGrant(
  slug: string,
  id: string,
  revision: number,
): Promise<{ ok: true; grant: string } | { ok: false; messages: string[] }> {
  const p = await officePortalWrite(slug);
  const grant = draftOf(p.file, p.owner).definition.grants.find((g) => g.id === id);
  if (!grant) return { ok: false, messages: ["This grant is gone already."] };
  const done = change(
    p,
    revision,
    (d) => ({ ...d, grants: d.grants.filter((g) => g.id !== id) }),
    `removing a grant on ${tableName(p, grant.table)}`,
  );
  return done.ok ? { ok: true, grant: JSON.stringify(grant) } : done;
}

/** Undo of a removal; the grant is parsed and checked like any other. */
export async function restoreGrant(slug: string, text: string): Promise<AccessAnswer> {
  const p = await officePortalWrite(slug);
  const parsed = grantSchema.safeParse(JSON.parse(text));
  if (!parsed.success) return { ok: false, messages: ["This grant could not be brought back."] };
  const { revision } = draftOf(p.file, p.owner);
  return change(
    p,
    revision,
    (d) => ({ ...d, grants: [...d.grants.filter((g) => g.id !== parsed.data.id), parsed.data] }),
    `bringing back a grant on ${tableName(p, parsed.data.table)}`,
  );
}

export async function setWall(slug: string, tableId: string, wall: Wall, revision: number): Promise<AccessAnswer> {
  const p = await officePortalWrite(slug);
  const parsed = wallSchema.safeParse(wall);
  if (!parsed.success || !p.live.policy.schema.findTable(tableId)) return { ok: false, messages: ["Choose a wall from the list."] };
  return change(p, revision, (d) => ({ ...d, walls: { ...d.walls, [tableId]: parsed.data } }), `the wall of ${tableName(p, tableId)}`);
}

function change(p: OfficePortal, revision: number, edit: Parameters<typeof changeDraft>[3], what: string): AccessAnswer {
  return told(p, changeDraft(p.file, p.owner, revision, edit, what));
}

function told(p: OfficePortal, done: ReturnType<typeof changeDraft>): AccessAnswer {
  revalidatePath(p.at, "layout");
  if (done.ok) return { ok: true };
  return { ok: false, messages: done.error.code === "stale" ? [STALE] : done.error.messages };
}

/** Undo and redo on the draft. */
export async function stepDraft(slug: string, revision: number, by: -1 | 1): Promise<AccessAnswer> {
  const p = await officePortalWrite(slug);
  return told(p, moveDraft(p.file, p.owner, revision, by === 1 ? 1 : -1));
}

export async function bringVersionBack(slug: string, data: FormData): Promise<void> {
  const p = await officePortalWrite(slug);
  const done = bringBack(p.file, p.owner, Number(data.get("revision")), Number(data.get("version")));
  revalidatePath(p.at, "layout");
  redirect(`${p.at}/publish${done.ok ? "" : "?stale=1"}`);
}

export async function publishDraft(slug: string, data: FormData): Promise<void> {
  const p = await officePortalWrite(slug);
  const note = String(data.get("note") ?? "")
    .trim()
    .slice(0, 500);
  const done = publish(p.file, p.owner, Number(data.get("revision")), note);
  revalidatePath(p.at, "layout");
  redirect(`${p.at}/publish?${done.ok ? "done=1" : "stale=1"}`);
}

export async function throwDraftAway(slug: string): Promise<void> {
  const p = await officePortalWrite(slug);
  if (draftOf(p.file, p.owner).changed) discardDraft(p.file, p.owner);
  revalidatePath(p.at, "layout");
  redirect(`${p.at}/publish`);
}
