/** Who else has the same thing open, as far as this process knows: told, never refused. */
import { once } from "@/data/file/per-process";
import type { OfficePortal } from "@/identity/requests/office-gate";

const open = once("office presence", () => new Map<string, Map<string, { name: string; at: number }>>());
const LASTS_MS = 90_000;
const MOST = 2_000;

/** Says that this member of staff has it open now, and names the others who had within the last minute and a half. */
export function alsoHere(p: OfficePortal, what: string): string[] {
  const key = `${p.file.id} ${what}`;
  if (open.size > MOST) open.clear();
  const here = open.get(key) ?? new Map<string, { name: string; at: number }>();
  open.set(key, here);
  for (const [id, x] of here) if (x.at < p.now - LASTS_MS) here.delete(id);
  here.set(p.staff.id, { name: p.staff.name, at: p.now });
  return [...here].flatMap(([id, x]) => (id === p.staff.id ? [] : [x.name]));
}
