"use server";
/** What the filter editor asks while it is used: how many records match, and records by name. Both are the owner's alone. */
import { z } from "zod";
import { draftPolicy } from "@/core/access/policy";
import { all } from "@/core/access/predicate";
import { resolve } from "@/core/access/resolve";
import { wallFor } from "@/core/access/scope";
import { type DraftProblem, fromDraft, sentFilter } from "@/core/filter/edit";
import { testsOf } from "@/core/schema/condition";
import type { FoundRecords, Offered } from "@/core/schema/offered";
import { draftOf } from "@/data/definition/draft";
import { chooseRecords, namedRecords } from "@/data/records/choose";
import { countWhere } from "@/data/records/counting/count-many";
import { countOf } from "@/data/tables/count";
import { text, word, words } from "@/identity/requests/takes";
import { personViewer } from "@/identity/viewers/viewer";
import { officeCall } from "@/office/action";

export type Trial =
  | {
      ok: true;
      all: number;
      /** Records that the filter matches, wall aside; null where it speaks of the person and nobody is chosen. */
      matches: number | null;
      /** For the chosen person, inside the wall. */
      forPerson: number | null;
    }
  | { ok: false; problems: DraftProblem[] };

/** Counts what a filter would match now, before it is stored. */
export const tryFilter = officeCall("build", [word, sentFilter, word], async (p, tableId, filter, as): Promise<Trial> => {
  const table = p.live.policy.schema.findTable(tableId);
  if (!table) return { ok: false, problems: [{ key: "", message: "The table of this filter is gone." }] };
  const read = fromDraft(filter, table, p.live.policy.schema);
  if (!read.ok) return { ok: false, problems: read.error };
  const condition = read.value;
  const ofViewer = testsOf(condition).some((t) => t.operands.some((o) => o.kind === "viewer"));
  const [person, membership] = z.string().max(100).catch("").parse(as).split(" ");
  const viewer = person ? personViewer(p.file, person, membership ?? null, p.now, "see-as") : undefined;
  const policy = draftPolicy(p.live.policy, draftOf(p.file, p.owner).definition);
  const count = (predicate: Parameters<typeof countWhere>[3]): number => countWhere(p.file, policy.schema, table.id, predicate);
  return {
    ok: true,
    all: countOf(p.file, table.id),
    matches: ofViewer ? (viewer ? count(resolve(condition, viewer)) : null) : count(resolve(condition, p.owner)),
    forPerson: viewer ? count(all([wallFor(policy, viewer, table.id, "see"), resolve(condition, viewer)])) : null,
  };
});

/** Records whose text holds the words, for a filter that names some. */
export const recordsNamed = officeCall("build", [word, text], async (p, tableId, words): Promise<FoundRecords> => {
  const table = p.live.policy.schema.findTable(tableId);
  if (!table) return { records: [], more: false };
  return chooseRecords(p.desk, table, z.string().max(200).catch("").parse(words));
});

/** The names of records that a filter names already. */
export const namesOfRecords = officeCall("build", [word, words], async (p, tableId, ids): Promise<Offered[]> => {
  const table = p.live.policy.schema.findTable(tableId);
  if (!table) return [];
  const asked = z.array(z.string().max(100)).max(200).catch([]).parse(ids);
  const named = new Map(namedRecords(p.desk, table, asked).map((x) => [x.value, x.label]));
  return asked.map((id) => ({ value: id, label: named.get(id) ?? "a removed record" }));
});
