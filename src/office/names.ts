/** Names for the ids that sentences mention, as the owner knows them. */
import type { Names } from "@/core/access/words/wording";
import type { Definition } from "@/core/definition/definition";
import { companyName } from "@/data/tables/company-names";
import type { OfficePortal } from "@/identity/requests/office-gate";

/** What looking needs of an office's portal. */
export type Looked = Pick<OfficePortal, "file" | "live" | "owner" | "desk" | "now">;

/** Features are those of the definition that is looked at: the published one unless another is given. */
export const namesOf = (p: Looked, definition: Definition = p.live.definition): Names => ({
  company: (id) => companyName(p.file, id),
  record: (table, id) => p.desk.labelOf(p.desk.schema.table(table), id) ?? "another record",
  feature: (id) => definition.features.find((f) => f.id === id)?.name,
});
