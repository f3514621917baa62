/** For whom a page, a section or an entry of the menu is. Courtesy: what it hides is not protected by it. */
import type { Policy } from "../access/policy";
import type { Viewer } from "../access/who/viewer";
import type { Audience, ReaderState } from "./page";

export interface Reader {
  is(state: ReaderState): boolean;
  /** All roles that count, those that others include among them. */
  readonly roles: ReadonlySet<string>;
  readonly features: ReadonlySet<string>;
}

/** The viewer as audiences test it. `waits`: they wait for approval, and are a visitor elsewhere. `unpaid` is asked only where it matters. */
export function readerOf(policy: Policy, viewer: Viewer, waits: boolean, unpaid: () => boolean): Reader {
  const roles = new Set(viewer.roles.flatMap((r) => [...policy.closure(r)]));
  const is = (state: ReaderState): boolean => {
    switch (state) {
      case "in":
        return viewer.person !== null;
      case "out":
        return viewer.person === null && !waits;
      case "waiting":
        return viewer.person === null && waits;
      case "unpaid":
        return viewer.person !== null && unpaid();
    }
  };
  return { is, roles, features: viewer.features };
}

/** Whether a page or section is for this reader. */
export const fits = (a: Audience, r: Reader): boolean =>
  (a.states.length === 0 || a.states.some((s) => r.is(s))) &&
  (a.roles.length === 0 || a.roles.some((x) => r.roles.has(x))) &&
  (a.feature === null || r.features.has(a.feature));
