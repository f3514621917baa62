"use server";
/** What a relation in a form of the portal is chosen from. */
import { z } from "zod";
import { isRelation } from "@/core/schema/fields/natures";
import type { FoundRecords } from "@/core/schema/offered";
import { chooseRecords } from "@/data/records/choose";
import { requestPortalWrite } from "@/identity/requests/request";

const asked = z.tuple([z.string().max(100), z.string().max(200)]);

/**
 * Records that the relation may point to: of those that the viewer sees, by any part of their name or text. None for a field that the viewer
 * may not name, as for one that is not there.
 */
export async function findRecords(field: string, words: string): Promise<FoundRecords> {
  const r = await requestPortalWrite();
  const parsed = asked.safeParse([field, words]);
  const f = parsed.success ? r.desk.schema.findField(parsed.data[0]) : undefined;
  const known = f && isRelation(f) && r.desk.nameable(r.desk.schema.table(f.tableId)).some((x) => x.id === f.id);
  if (!parsed.success || !f || !isRelation(f) || !known) return { records: [], more: false };
  return chooseRecords(r.desk, r.desk.schema.table(f.options.target), parsed.data[1]);
}
