import { companyFacts } from "@/data/tables/company-facts";
import type { OfficePortal } from "@/identity/requests/office-gate";

/** Null where there is no such company. */
export function companyNamed(p: OfficePortal, id: string): { id: string; name: string } | null {
  const found = companyFacts(p.file, id);
  return found ? { id, name: found.name } : null;
}
