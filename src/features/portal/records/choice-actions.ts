"use server";
import { isRelation } from "@/core/schema/fields/natures";
import type { FoundRecords } from "@/core/schema/offered";
import { chooseRecords } from "@/data/records/choose";
import { word } from "@/identity/requests/takes";
import { portalCall } from "@/office/portal-action";

/**
 * Records that the relation may point to: of those that the viewer sees, by any part of their name or text. None for a field that the viewer
 * may not name, as for one that is not there.
 */
export const findRecords = portalCall([word, word], async (r, field, words): Promise<FoundRecords> => {
  const f = r.desk.schema.findField(field);
  const known = f && isRelation(f) && r.desk.nameable(r.desk.schema.table(f.tableId)).some((x) => x.id === f.id);
  if (!f || !isRelation(f) || !known) return { records: [], more: false };
  return chooseRecords(r.desk, r.desk.schema.table(f.options.target), words);
});
