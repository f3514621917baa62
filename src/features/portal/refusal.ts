/**
 * What the agency's own people are told where they find nothing: the rules that hold for them. The same words whether the
 * record exists or not, and nothing that is written in it: see docs/decisions/0007.
 */
import { scope } from "@/core/access/scope";
import { sideOf } from "@/core/access/viewer";
import { grantSentence, type Names, reasonSentence } from "@/core/access/wording";
import { companyFacts } from "@/data/people";
import { readRecord } from "@/data/records/read";
import type { PortalRequest } from "@/identity/request";

export function refusalWords(r: PortalRequest): string[] {
  const { policy, definition } = r.published;
  const table = policy.schema.tableBySlug(r.path.split(/[/?]/)[1] ?? "");
  if (!table || sideOf(r.viewer) !== "agency") return [];
  const names: Names = {
    company: (id) => companyFacts(r.file, id)?.name,
    // A record that a filter names is named only to those who see it.
    record: (t, id) => {
      const label = readRecord(r.file, policy, r.viewer, t, id)?.fields[policy.schema.table(t).labelFieldId];
      return label === undefined ? undefined : String(label);
    },
    feature: (id) => definition.features.find((f) => f.id === id)?.name,
  };
  const s = scope(policy, r.viewer, table.id);
  return s.grants.length > 0
    ? s.grants.map((g) => grantSentence(policy, g.grant, names))
    : s.reasons.map((x) => reasonSentence(policy, x, names));
}
