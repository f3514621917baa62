/** People are told by mail when their way in, or their address, has changed: it may have been somebody else. */
import { type HeardBy, kindsHeardBy } from "@/core/events/kinds";
import type { OccasionId } from "@/core/messages/occasions";
import { EMAIL_FIELD } from "@/core/schema/types";
import type { Feed } from "@/data/events/feeds";
import { write } from "@/data/messages/outbox";
import { personFacts } from "@/data/people/people";
import { saidOf } from "./said";

/** The occasion of the letter, and what its note says. */
interface About {
  readonly occasion: OccasionId;
  readonly note: string;
}
const way = (note: string): About => ({ occasion: "doors-changed", note });
const guessed = (codes: string): About =>
  way(
    `Somebody who knows your password has entered ${codes} If it was not you, choose a new password now: on the sign-in page, ask for a link by e-mail.`,
  );

/** A kind that its person hears of does not compile without a line here. */
const ABOUT: Record<HeardBy<"person">, About> = {
  "password-chosen": way("you chose a new password."),
  "passkey-made": way("you made a passkey."),
  "passkey-removed": way("you removed a passkey."),
  "second-factor-on": way("you turned a second factor on."),
  "second-factor-off": way("you turned the second factor off."),
  "way-in-made": way("the agency has made another way to sign in for you."),
  "key-made-for": way("the agency has made a key with which a program can do what you may do."),
  "second-factor-taken": way("the agency has removed your second factor."),
  "second-factor-guessed": guessed("ten wrong codes of your second factor."),
  "second-factor-stopped": guessed("twenty wrong codes of your second factor. No more codes are taken until you open a link by e-mail."),
  "address-changed": { occasion: "email-changed", note: "" },
};

/** Goes to the address from before the event: whoever took an address over does not keep its former reader from hearing of it. */
export const changeLetters: Feed = {
  kinds: kindsHeardBy("person"),
  hear: (file, event) => {
    const person = event.record ? personFacts(file, event.record) : undefined;
    const former = event.before?.[EMAIL_FIELD];
    const email = typeof former === "string" ? former : person?.email;
    if (!person || !email) return;
    const { occasion, note } = ABOUT[event.kind as HeardBy<"person">];
    const said = { ...saidOf(file, { ...person, email }, event.at), ...(note ? { note } : {}) };
    write(file, { occasion, to: { personId: person.id, email }, said, link: null, by: "system", now: event.at });
  },
};
