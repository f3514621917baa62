/** What an import makes beside its rows, or before them: companies and records that its cells name, and people with their memberships. */

import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { findChoice } from "@/core/schema/fields/choice";
import { hasChoices } from "@/core/schema/fields/natures";
import type { Value } from "@/core/schema/types";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import { addCompany, addMembership, addPerson } from "../people/people";
import { addBare } from "../records/write/bare";
import { addChoice } from "../schema/choices";
import { decodeValue } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { Overtaken } from "./reading/overtaken";
import type { Bring } from "./rows";

interface Add {
  readonly mark: string;
  readonly target: string;
  readonly name: string;
  readonly company: string | null;
  readonly id: string;
}

const additions = (file: PortalFile, where: string): Add[] =>
  file.db.prepare(`SELECT mark, target, name, company, id FROM stage.adds WHERE ${where}`).all() as Add[];

/** Choices that the file adds to fields that are there, after those that they have. */
export function addChoices(file: PortalFile, plan: ImportPlan): { field: string; id: string }[] {
  const wanted = file.db.prepare("SELECT mark, at, name FROM stage.adds WHERE target IS NULL ORDER BY rowid").all() as {
    mark: string;
    at: number;
    name: string;
  }[];
  const settle = file.db.prepare("UPDATE stage.adds SET id = ? WHERE mark = ?");
  const made: { field: string; id: string }[] = [];
  for (const { mark, at, name } of wanted) {
    const c = plan.columns[at];
    const field = c?.to === "field" ? schemaOf(file).findField(c.field) : undefined;
    if (!field || !hasChoices(field)) throw new Overtaken("A field with choices is of another kind now. Check all rows again.");
    const there = findChoice(field, name);
    const id = there ?? addChoice(file, field, name);
    if (!there) made.push({ field: field.id, id });
    settle.run(id, mark);
  }
  return made;
}

/** Several columns may name the same new company: it is made once. Their ids are answered. */
export function addCompanies(file: PortalFile, owner: Owner): string[] {
  const byName = new Map<string, string>();
  const settle = file.db.prepare("UPDATE stage.adds SET id = ? WHERE mark = ?");
  for (const a of additions(file, "target = 't_companies'")) {
    const key = a.mark.replace(/^new:\d+:/, "");
    const there = byName.get(key);
    if (there) {
      settle.run(there, a.mark);
      continue;
    }
    const added = addCompany(file, owner, a.name, {}, a.id);
    if (!added.ok) throw new Overtaken(`${a.name}: ${added.error.message} Check all rows again.`);
    byName.set(key, a.id);
  }
  return [...byName.values()];
}

/** Records of other tables that have nothing but a name, and the company of the row that named them. */
export function addRecords(file: PortalFile, owner: Owner): { table: string; id: string }[] {
  const { policy } = published(file);
  const made = new Map<string, { table: string; id: string }>();
  for (const a of additions(file, "target <> 't_companies'")) {
    const key = `${a.target} ${a.mark.replace(/^new:\d+:/, "")}`;
    const there = made.get(key);
    if (there) {
      file.db.prepare("UPDATE stage.adds SET id = ? WHERE mark = ?").run(there.id, a.mark);
      continue;
    }
    const table = policy.schema.table(a.target);
    const company = a.company?.startsWith("new:") ? companyOf(file, a.company) : a.company;
    addBare(file, owner, table, { id: a.id, name: a.name, company });
    made.set(key, { table: table.id, id: a.id });
  }
  return [...made.values()];
}

const companyOf = (file: PortalFile, mark: string): string | null =>
  (file.db.prepare("SELECT id FROM stage.adds WHERE mark = ?").pluck().get(mark) as string | undefined) ?? null;

/** The stored values of a staged row, by the field they go to. */
function valuesOf(b: Bring, row: Record<string, unknown>): Record<string, Value> {
  const schema = schemaOf(b.file);
  return Object.fromEntries(
    b.places.columns.map((c) => {
      const field = schema.field(b.places.columnIds.get(c.at)!);
      return [field.id, decodeValue(field, row[`c${c.at}`])];
    }),
  );
}

/** People who are new are added with what identifies them and their membership; the rest of their row comes like everybody's. */
export function addPeople(b: Bring): void {
  const { file, owner, plan } = b;
  const companies = b.places.columns.find((c) => c.field.id === "f_person_companies");
  const rows = file.db.prepare("SELECT * FROM stage.rows WHERE state < 2").all() as Record<string, unknown>[];
  for (const row of rows) {
    const values = valuesOf(b, row);
    const ids = (companies ? ((JSON.parse(String(row[`c${companies.at}`] ?? "[]")) as string[]) ?? []) : []).map((x) =>
      x.startsWith("new:") ? companyOf(file, x)! : x,
    );
    const roles = [String(row.role ?? plan.role ?? "")];
    const places = plan.whose.kind === "agency" ? [null] : ids;
    if (row.state === 0) {
      const { f_person_name: name, f_person_email: email } = values;
      const memberships = places.map((companyId) => ({ companyId, roles }));
      const added = addPerson(file, owner, { id: String(row.id), name: String(name ?? ""), email: String(email ?? ""), memberships });
      if (!added.ok) throw new Overtaken(`${String(email)}: ${added.error.message} Check all rows again.`);
      continue;
    }
    for (const companyId of places) {
      const held = file.db.prepare("SELECT 1 FROM sys_memberships WHERE person_id = ? AND company_id IS ?").get(row.id, companyId);
      if (held) continue;
      const added = addMembership(file, owner, String(row.id), companyId, roles);
      if (!added.ok) throw new Overtaken(`${String(values.f_person_email)}: ${added.error.message}`);
    }
  }
}
