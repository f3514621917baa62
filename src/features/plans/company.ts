import { companyFacts } from "@/data/people/people";
import type { OfficePortal } from "@/identity/office-gate";

export function companyNamed(p: OfficePortal, id: string): { id: string; name: string } | null {
  const found = companyFacts(p.file, id);
  return found ? { id, name: found.name } : null;
}
