import type { HookKind } from "@/webhooks/hooks";

/** A kind as it is chosen and listed: "Record added". Receivers read the same words with hyphens. */
export function kindWords(kind: HookKind | string): string {
  const words = kind === "act" || kind.startsWith("act:") ? "act of your own" : kind.replaceAll("-", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}
