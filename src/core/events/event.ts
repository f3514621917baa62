/** What happened in a portal, as one thing that log, history, caches, messages and webhooks are told of. */
import type { Viewer } from "../access/who/viewer";
import type { Values } from "../schema/value";
import type { EventKind, OwnAct } from "./kinds";

export type ActorKind = "staff" | "person" | "key" | "visitor" | "system";
export interface Actor {
  readonly kind: ActorKind;
  /** Of the member of staff, the person, or the key; of the system, which part of it; null of a visitor. */
  readonly id: string | null;
}
/** By what it was done. */
export type Via = "page" | "api" | "tools" | "import" | "source" | "act" | "job";

/** What a letter about an event says. It is handed to those who feed on events, and not stored with the event. */
export interface Told {
  readonly note: string;
  /** Who gets it, where that is not everybody who may hear of the kind: a buyer without an account has no id. */
  readonly to?: readonly { readonly id: string | null; readonly name: string; readonly email: string }[];
}

export interface Event {
  readonly actor: Actor;
  readonly via: Via;
  readonly kind: EventKind | OwnAct;
  /** Milliseconds since the epoch. */
  readonly at: number;
  readonly table?: string | null;
  readonly record?: string | null;
  /** Whose the record was at that time. */
  readonly company?: string | null;
  /** Values by field id, of the fields that changed. They stand apart from the event itself, where they can be erased. */
  readonly before?: Values | null;
  readonly after?: Values | null;
  readonly detail?: string | null;
  /** The event that led to this one. */
  readonly cause?: number | null;
  /** Of rows that came in together: which import has them. Not kept with the event. */
  readonly imported?: string;
  /** Without it, no letter is sent about money. */
  readonly told?: Told | undefined;
}

/** Who acts when this viewer does something. */
export const actorOf = (viewer: Viewer): Actor => {
  if (viewer.kind === "owner") return { kind: "staff", id: viewer.person?.id ?? null };
  if (viewer.kind === "key") return { kind: "key", id: viewer.key?.id ?? null };
  return viewer.person ? { kind: "person", id: viewer.person.id } : { kind: "visitor", id: null };
};
/** A part of Elkhorn that acts by itself, such as "payments". */
export const system = (part: string): Actor => ({ kind: "system", id: part });
/** For columns that hold one text: who made a record. An id alone is a person's of the portal. */
export const actorText = (a: Actor): string => (a.id === null ? a.kind : a.kind === "person" ? a.id : `${a.kind}:${a.id}`);
