/** A door: one way for somebody to show who they are. Each is a file of this folder; none of them lets anybody in (`../enter.ts` does). */
import type { Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import type { From } from "../limits/limits";
import type { LinkState } from "../secrets/links";
import type { DoorId } from "./settings";

/** `wrong` is the same answer for an unknown address, a wrong secret and a person who may not sign in. */
export type Refused =
  | { readonly code: "wrong" }
  | { readonly code: "too-many"; readonly seconds: number }
  /** Told to whoever gave the right password alone: it was a temporary one, and its days are over; or their account is. */
  | { readonly code: "temporary-over" }
  | { readonly code: "ended" }
  /** Too many wrong codes of the second factor: none is taken before the person has come in by their mail. */
  | { readonly code: "stopped" }
  /** The door is shut for everybody, or for the roles that this person holds; then others are open to them. */
  | { readonly code: "shut"; readonly open: readonly DoorId[] }
  | { readonly code: "link"; readonly state: LinkState["state"] };

export interface Proved {
  readonly personId: string;
  /** A temporary password opens nothing but the page that replaces it. */
  readonly temporary?: boolean;
  /** A link that somebody of the agency made opens whatever doors are shut: nobody could begin otherwise. */
  readonly invited?: boolean;
}

export interface Door<Given> {
  readonly id: DoorId;
  /** As the owner reads it. */
  readonly name: string;
  readonly about: string;
  /** Whether it shows two things at once, something held and something known or one's body; then no second factor is asked for. */
  readonly twofold: boolean;
  /** Who it is. Every try is counted before anything is looked at. */
  prove(file: PortalFile, given: Given, from: From, now: number): Promise<Result<Proved, Refused>>;
}
