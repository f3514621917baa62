import type { OfficePortal } from "@/identity/requests/office-gate";
import type { Run } from "@/office/sources/feeds";
import { plural } from "@/office/words";

const MINUTE = 60_000;

/** How long ago, in the largest unit that fits. */
export function agoWords(at: number, now: number): string {
  const minutes = Math.floor((now - at) / MINUTE);
  if (minutes < 1) return "just now";
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 48 * 60) return `${Math.floor(minutes / 60)} h ago`;
  return `${Math.floor(minutes / 1_440)} days ago`;
}

export const everyWords = (minutes: number): string =>
  ({ 15: "Every 15 minutes", 60: "Every hour", 360: "Every 6 hours", 1440: "Every day", 10080: "Every week" })[minutes] ??
  `Every ${minutes} minutes`;

/** What a reading did, in counts. */
export function runWords(p: OfficePortal, r: Run): string {
  if (r.state === "running") return "Is being read";
  if (r.state === "failed" && r.added + r.changed + r.same === 0) return "Failed";
  if (r.message && r.added + r.changed + r.same + r.bad + r.removed === 0) return "Fetched";
  const parts = [
    `${r.added} added`,
    `${r.changed} changed`,
    `${r.same} the same`,
    ...(r.removed > 0 ? [`${r.removed} removed`] : []),
    ...(r.bad > 0 ? [plural(p, r.bad, "row with a problem", "rows with problems")] : []),
  ];
  return parts.join(", ");
}
