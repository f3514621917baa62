"use server";
/** A filter as the editor of filters has it, and back as it is stored: for every room that lets one be written. */
import { z } from "zod";
import { type DraftProblem, fromDraft, type GroupDraft, sentFilter, toDraft } from "@/core/filter/edit";
import { conditionSchema } from "@/core/schema/condition";
import { word } from "@/identity/requests/takes";
import { officeCall } from "@/office/action";
import { type PathChoice, pathChoices } from "./paths";

/** With what it may test. */
export const openFilter = officeCall(
  "bill",
  [word, z.unknown()],
  async (p, table, condition): Promise<{ group: GroupDraft; paths: PathChoice[] } | null> => {
    const { schema } = p.live.policy;
    const parsed = conditionSchema.nullable().safeParse(condition);
    const of = schema.findTable(String(table));
    if (!of || !parsed.success) return null;
    let keys = 0;
    return { group: toDraft(parsed.data, schema, () => `s${++keys}`), paths: pathChoices(schema, of) };
  },
);

/** What is not whole is named. */
export const readFilter = officeCall(
  "bill",
  [word, sentFilter],
  async (p, table, group): Promise<{ ok: true; condition: unknown } | { ok: false; problems: DraftProblem[] }> => {
    const { schema } = p.live.policy;
    const of = schema.findTable(String(table));
    if (!of) return { ok: false, problems: [{ key: "", message: "This filter could not be read." }] };
    const read = fromDraft(group, of, schema);
    return read.ok ? { ok: true, condition: read.value } : { ok: false, problems: read.error };
  },
);
