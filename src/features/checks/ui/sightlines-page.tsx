import { draftOf } from "@/data/definition/draft";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { CheckTabs } from "@/office/ui/check-tabs";
import { Sightlines } from "./sightlines";

export interface SightlinesSearch {
  of?: string;
  q?: string;
  company?: string;
  role?: string;
  table?: string;
  by?: string;
  show?: string;
}

/** How many records of each table everybody sees. */
export function SightlinesPage({ p, search }: { p: OfficePortal; search: SightlinesSearch }) {
  const { of, q = "", company = "", role = "", table = "", by, show } = search;
  const draft = draftOf(p.file, p.owner);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <CheckTabs at={p.at} role={p.staff.role} />
      <div>
        <h1>Sightlines</h1>
        <p className="quiet mt-1 max-w-prose">
          How many records of each table everybody sees, counted by the rules that answer them. A figure opens its records, each with the
          reason. People who are not in yet are counted as if they had signed in.
        </p>
      </div>
      <Sightlines
        at={p.at}
        which={of === "draft" && draft.changed ? "draft" : "live"}
        hasDraft={draft.changed}
        locale={p.live.definition.portal.locale}
        start={{ q, company, role, table, by: by === "role" ? "role" : "company", show: show === "groups" ? "groups" : "people" }}
      />
    </div>
  );
}
