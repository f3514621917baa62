"use server";
/** The fields of all grants on a table, changed in one step. */
import { z } from "zod";
import { officeAction } from "@/office/action";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const fieldsInput = z.object({
  revision: z.number().int(),
  table: z.string(),
  grants: z.array(z.object({ id: z.string(), fields: z.array(z.string()).max(500), changes: z.array(z.string()).max(500) })).max(500),
});

export const saveFields = officeAction("build", [fieldsInput], async (p, input): Promise<DraftAnswer> => {
  const table = p.live.policy.schema.findTable(input.table);
  if (!table) return { ok: false, messages: ["This could not be read. Load the page again."] };
  const chosen = new Map(input.grants.map((g) => [g.id, g]));
  // In the table's own order, whatever the order of ticking; what Elkhorn sets is set by nobody else.
  const ordered = (ids: readonly string[], settable: boolean): string[] =>
    table.fields.filter((f) => ids.includes(f.id) && !(settable && f.system)).map((f) => f.id);
  return changeInDraft(
    p,
    input.revision,
    (d) => ({
      ...d,
      grants: d.grants.map((g) => {
        const c = g.table === table.id ? chosen.get(g.id) : undefined;
        return c ? { ...g, fields: ordered(c.fields, false), changes: ordered(c.changes, true) } : g;
      }),
    }),
    `the fields of ${table.name}`,
  );
});
