/**
 * What the agency's own people are told on a refusal; clients and visitors are told nothing of rules. Where they find nothing,
 * it is the rules that hold for them, in the same words whether the record exists or not. Of a record that they see it is the
 * explanation itself, with those values that they read there: see docs/decisions/0007.
 */
import { scope } from "@/core/access/scope";
import { sideOf } from "@/core/access/who/viewer";
import { explanationSentences, grantSentence, type Names, reasonSentence } from "@/core/access/words/wording";
import type { Table } from "@/core/schema/types";
import { explainToViewer } from "@/data/records/query/explain";
import { companyFacts } from "@/data/tables/company-facts";
import type { PortalRequest } from "@/identity/requests/request";

/** The agency's own people hold their roles in a membership; whoever has none is nobody's. */
const isAgencys = (r: PortalRequest): boolean => sideOf(r.viewer) === "agency" && r.viewer.membershipId !== null;

function namesFor(r: PortalRequest): Names {
  const { policy, definition } = r.published;
  return {
    company: (id) => companyFacts(r.file, id)?.name,
    // A record that a filter names is named only to those who see it.
    record: (t, id) => {
      return r.desk.labelOf(policy.schema.table(t), id);
    },
    feature: (id) => definition.features.find((f) => f.id === id)?.name,
  };
}

/** What the address asks for: the form to add, the form to change, else to see. */
function askedOf(parts: readonly string[]): Rules["action"] {
  if (parts[2] === "new") return "add";
  return parts[3] === "change" ? "change" : "see";
}

export interface Rules {
  readonly action: "see" | "add" | "change";
  readonly words: readonly string[];
}

/** The rules that hold for the viewer at this address; null for all but the agency's people. */
export function rulesHere(r: PortalRequest): Rules | null {
  const { policy } = r.published;
  const parts = r.path.split("?")[0]!.split("/");
  const table = policy.schema.tableBySlug(parts[1] ?? "");
  if (!isAgencys(r)) return null;
  const action = askedOf(parts);
  // A table that none of their grants opens is not named: it reads like an address that leads nowhere.
  if (!table || scope(policy, r.viewer, table.id).grants.length === 0)
    return { action, words: ["No grant of your roles opens anything at this address."] };
  const s = scope(policy, r.viewer, table.id, action);
  const names = namesFor(r);
  const words =
    s.grants.length > 0
      ? s.grants.map((g) => grantSentence(policy, g.grant, names))
      : s.reasons.map((x) => reasonSentence(policy, x, names));
  return { action, words };
}

export interface Refusal {
  readonly action: "change" | "remove";
  readonly steps: readonly { readonly text: string; readonly holds: boolean }[];
}

/** Why the viewer may not change or remove a record they see; empty where they may, and for all but the agency's people. */
export function refusalsOn(r: PortalRequest, table: Table, id: string): Refusal[] {
  const { policy } = r.published;
  if (!isAgencys(r)) return [];
  return (["change", "remove"] as const).flatMap((action): Refusal[] => {
    const told = explainToViewer(r.desk, table.id, id, action);
    if (!told || told.outcome === "allowed") return [];
    return [{ action, steps: explanationSentences(policy, told, namesFor(r)) }];
  });
}
