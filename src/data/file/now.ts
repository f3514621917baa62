let last = { at: 0, text: "" };

/** This instant as ISO 8601. An act and its audit row mostly fall into one millisecond, so its text is made once. */
export function isoNow(): string {
  const at = Date.now();
  if (at !== last.at) last = { at, text: new Date(at).toISOString() };
  return last.text;
}
