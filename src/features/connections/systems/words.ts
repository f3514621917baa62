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
