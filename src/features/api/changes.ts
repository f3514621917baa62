/** What changed in a table since a cursor: for programs that keep a copy. */
import { z } from "zod";
import { recordJson } from "@/core/exchange/present";
import { changesSince, type Mark, markNow } from "@/data/records/changes";
import { seal, unseal } from "@/identity/secrets/secrets";
import { invalid, issues, Problem } from "./problem";
import { type ApiRequest, json, openTable } from "./route";
import type { ChangesAnswer } from "./schemas";

export const changesParams = z.object({
  since: z.string().max(4_000).optional(),
  limit: z.coerce.number().int().min(1).max(200).default(100),
});

/** GET changes of a table since a cursor. 422 for a cursor that is not the viewer's own, 410 for one that is too old. */
export function getChanges(r: ApiRequest): Response {
  const table = openTable(r);
  const parsed = changesParams.safeParse(Object.fromEntries(r.query));
  if (!parsed.success) throw invalid("A part of the address is not valid.", issues(parsed.error));
  const { since, limit } = parsed.data;
  const whose = `${table.id} ${r.viewer.person?.id ?? ""} ${r.viewer.membershipId ?? ""} ${r.viewer.key?.id ?? ""}`;
  // Sealed and not only signed: how many events there are is nobody's to know.
  const cursor = (mark: Mark): string => seal(r.file.id, "changes", JSON.stringify({ ...mark, whose }));
  if (since === undefined) return json({ changes: [], next: cursor(markNow(r.desk)), more: false } satisfies ChangesAnswer);
  const from = markIn(r.file.id, whose, since);
  if (!from) throw invalid("This cursor does not belong to this feed.", [{ field: "since", message: "Begin again without a cursor." }]);
  const found = changesSince(r.desk, table, from, limit);
  if (!found)
    throw new Problem(
      "gone",
      "What came after this cursor cannot be told any more. Read the table anew, and begin again without a cursor.",
    );
  const changes = found.changes.map((c): ChangesAnswer["changes"][number] => {
    if (c.kind === "seen") return { kind: "record", ...recordJson(table, c.record) };
    return c.kind === "left" ? { kind: "left", id: c.id } : { kind: "many" };
  });
  return json({ changes, next: cursor(found.to), more: found.more } satisfies ChangesAnswer);
}

/** Null for a cursor that is broken, another viewer's, or another table's. */
function markIn(portal: string, whose: string, cursor: string): Mark | null {
  try {
    const found = JSON.parse(unseal(portal, "changes", cursor)) as Mark & { whose: string };
    return found.whose === whose ? found : null;
  } catch {
    return null;
  }
}
