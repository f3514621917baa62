/**
 * Who hears of events in the transaction that records them: letters, webhooks. The data layer does not know them; each process says
 * at its start who they are.
 */
import type { Event } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import type { PortalFile } from "../file/open";
import { once } from "../file/per-process";

export interface Feed {
  /** "act" is every act of the agency's own. */
  readonly kinds: readonly (EventKind | "act")[];
  /** Called with the event's number. Throws only where the act itself must not be. */
  readonly hear: (file: PortalFile, event: Event, id: number) => void;
}

const current = once("feeds of events", () => ({ feeds: null as ReadonlyMap<string, readonly Feed[]> | null }));

/** Says who hears of events in this process, once, before any is recorded. */
export function setFeeds(feeds: readonly Feed[]): void {
  const byKind = new Map<string, Feed[]>();
  for (const feed of feeds) for (const kind of feed.kinds) byKind.set(kind, [...(byKind.get(kind) ?? []), feed]);
  current.feeds = byKind;
}

const NONE: readonly Feed[] = [];

/** @throws Where the process has not said who hears of events: a letter would be lost without a word. */
export function feedsOf(kind: Event["kind"]): readonly Feed[] {
  if (!current.feeds) throw new Error("Nobody hears of events in this process: call setFeeds with the list in src/server/feeds.ts first.");
  return current.feeds.get(kind.startsWith("act:") ? "act" : kind) ?? NONE;
}
