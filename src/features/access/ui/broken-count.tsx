import type { OfficePortal } from "@/identity/requests/office-gate";
import { brokenLately } from "../safeguards";

/** Beside the step where they are told: how many safeguards do not hold; nothing where all do. */
export async function BrokenCount({ p }: { p: OfficePortal }) {
  const n = await brokenLately(p);
  return n > 0 ? `${n} ${n === 1 ? "safeguard" : "safeguards"} broken` : null;
}
