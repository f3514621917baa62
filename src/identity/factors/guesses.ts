/** Wrong codes in a row: it may be somebody else, who has the password. In the log for the agency; a letter to the person follows it. */
import { system } from "@/core/events/event";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { personFacts } from "@/data/people/people";
import type { Guessed } from "./try-second";

/** Records that codes of a person's second factor were guessed at. `now` in milliseconds. */
export function recordGuesses(file: PortalFile, personId: string, what: Guessed, now: number): void {
  if (!personFacts(file, personId)) return;
  const kind = what === "guessed" ? "second-factor-guessed" : "second-factor-stopped";
  record(file, { actor: system("sign-in"), via: "page", at: now, kind, table: "t_people", record: personId });
}
