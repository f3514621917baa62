/** Publishing: the draft becomes the version that holds for everybody, whole or not at all. */
import type { Owner } from "@/core/access/who/viewer";
import { type Definition, definitionProblems } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { repriced } from "@/core/prices/prices";
import { err, ok, type Result } from "@/core/result";
import { type Draft, type DraftError, draftOf } from "../definition/draft";
import { published, storePublished } from "../definition/published";
import type { PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { roleHolders } from "../people/accounts";
import { currencyOfBooks } from "../tables/books-tables";
import { schemaOf } from "../tables/read";

declare const everySafeguardHolds: unique symbol;
/** Says that every safeguard of one draft was checked and holds. `uphold` alone makes it, and publishing asks for it. */
export interface Upheld {
  readonly revision: number;
  readonly [everySafeguardHolds]: true;
}

/** `holding` are the ids of safeguards that were checked on this draft and hold; null where one is missing. */
export const uphold = (draft: Draft, holding: ReadonlySet<string>): Upheld | null =>
  draft.definition.safeguards.every((s) => holding.has(s.id)) ? ({ revision: draft.revision } as Upheld) : null;

/**
 * Makes the draft the version that holds from the next request on, with its indexes asked for. `upheld` says that its safeguards were checked.
 * Answers the version's number, or "stale" where the draft has changed since, or what the draft would break, as sentences.
 */
export function publish(file: PortalFile, owner: Owner, upheld: Upheld, note = ""): Result<{ version: number }, DraftError> {
  file.db.pragma("synchronous = FULL"); // a change of access must outlive a power cut
  try {
    return transact(file, () => {
      const draft = draftOf(file, owner);
      if (draft.revision !== upheld.revision) return err({ code: "stale" as const });
      // Nothing is other than it was: there is no version of that.
      if (!draft.changed) return ok({ version: published(file).version });
      const live = published(file).definition;
      const problems = [
        ...definitionProblems(draft.definition, schemaOf(file)),
        ...strandedHolders(file, owner, draft.definition),
        ...repriced(live.prices, draft.definition.prices, live.plans),
        ...otherCurrency(file, draft.definition),
      ];
      if (problems.length > 0) return err({ code: "invalid" as const, messages: problems });
      const by = { actor: actorOf(owner), name: owner.person?.name ?? "", at: owner.now };
      return ok({ version: storePublished(file, draft.definition, by, note, "walls") });
    });
  } finally {
    file.db.pragma("synchronous = NORMAL");
  }
}

/** Invoices stay in the currency that they were made in. */
function otherCurrency(file: PortalFile, next: Definition): string[] {
  const kept = currencyOfBooks(file);
  if (kept === null || kept === next.portal.currency) return [];
  return [`The portal's orders and invoices are in ${kept}, so its currency stays ${kept}.`];
}

/** Roles that somebody holds now and that these rules do not have: publishing would take everything from them without a word. */
export function strandedHolders(file: PortalFile, owner: Owner, next: Definition): string[] {
  const staying = new Set(next.roles.map((r) => r.id));
  const leaving = published(file).definition.roles.filter((r) => !staying.has(r.id));
  if (leaving.length === 0) return [];
  const holders = roleHolders(file, owner);
  return leaving
    .filter((r) => holders.has(r.id))
    .map((r) => {
      const n = holders.get(r.id)!;
      return `${n === 1 ? "One person holds" : `${n} people hold`} the role ${r.name}, which the draft does not have. Give them another role first.`;
    });
}
