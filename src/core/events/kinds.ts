/**
 * What can happen in a portal: each kind with its words in the back office, what it is about, and who may hear of it. A new kind is a line
 * here; nothing else is recorded. Letters, the log, a record's history, and later notices and webhooks are fed by kinds, never by words.
 */
interface Kind {
  /** In the log, after who did it and before what it was done to: "Dana changed Harbour front". */
  readonly says: string;
  readonly of: "record" | "person" | "table" | "portal" | "money";
  /**
   * Besides the agency. readers: whoever may read that record, as far as they read its fields. person: the person that it is about.
   * payers: whoever pays for the company.
   */
  readonly heard: "agency" | "readers" | "person" | "payers";
}

export const EVENT_KINDS = {
  "record-added": { says: "added", of: "record", heard: "readers" },
  "record-changed": { says: "changed", of: "record", heard: "readers" },
  "record-removed": { says: "removed", of: "record", heard: "readers" },
  "record-restored": { says: "restored", of: "record", heard: "readers" },
  "act-undone": { says: "took back", of: "record", heard: "readers" },
  "people-made": { says: "made people of a table", of: "table", heard: "agency" },
  "companies-made": { says: "made companies of a table", of: "table", heard: "agency" },
  "records-moved-in": { says: "took in a record", of: "record", heard: "agency" },
  "record-merged": { says: "merged into another", of: "record", heard: "agency" },
  "record-took-over": { says: "took over", of: "record", heard: "agency" },
  "fields-dropped": { says: "fields dropped", of: "table", heard: "agency" },
  "message-written": { says: "wrote", of: "record", heard: "readers" },
  "message-noted": { says: "noted", of: "record", heard: "agency" },
  imported: { says: "imported", of: "table", heard: "agency" },
  "import-undone": { says: "took an import back", of: "table", heard: "agency" },
  "table-added": { says: "added a table", of: "table", heard: "agency" },
  "table-changed": { says: "changed a table", of: "table", heard: "agency" },
  "table-brought-back": { says: "brought a table back", of: "table", heard: "agency" },
  "table-removed": { says: "removed a table", of: "table", heard: "agency" },
  "field-added": { says: "added a field", of: "table", heard: "agency" },
  "field-changed": { says: "changed a field", of: "table", heard: "agency" },
  "field-brought-back": { says: "brought a field back", of: "table", heard: "agency" },
  "field-removed": { says: "removed a field", of: "table", heard: "agency" },
  "field-filled": { says: "filled a field", of: "table", heard: "agency" },
  "field-retyped": { says: "changed a field's type", of: "table", heard: "agency" },
  "choices-changed": { says: "changed choices", of: "table", heard: "agency" },
  "relation-turned": { says: "turned a relation round", of: "table", heard: "agency" },
  "level-added": { says: "added a level", of: "table", heard: "agency" },
  published: { says: "published", of: "portal", heard: "agency" },
  "version-brought-back": { says: "brought back", of: "portal", heard: "agency" },
  "draft-discarded": { says: "discarded the draft", of: "portal", heard: "agency" },
  reshaped: { says: "reshaped", of: "portal", heard: "agency" },
  "seen-as": { says: "saw the portal as", of: "portal", heard: "agency" },
  "rehearsal-begun": { says: "rehearsal begun", of: "portal", heard: "agency" },
  invited: { says: "invited", of: "person", heard: "agency" },
  "invitation-withdrawn": { says: "withdrew an invitation", of: "person", heard: "agency" },
  "invitation-given-back": { says: "gave an invitation back", of: "person", heard: "agency" },
  "links-downloaded": { says: "downloaded links of invitations", of: "portal", heard: "agency" },
  "links-looked-at": { says: "looked at links of invitations", of: "portal", heard: "agency" },
  "temporary-password-given": { says: "gave a temporary password to", of: "person", heard: "agency" },
  "way-in-made": { says: "made a way in beside their own for", of: "person", heard: "person" },
  "standing-link-made": { says: "made a standing link for", of: "person", heard: "agency" },
  "standing-link-taken-back": { says: "took a standing link back from", of: "person", heard: "agency" },
  "standing-link-used": { says: "came in by a standing link", of: "person", heard: "agency" },
  "sign-in-name-set": { says: "set the sign-in name of", of: "person", heard: "agency" },
  "last-day-set": { says: "set the last day of", of: "person", heard: "agency" },
  "address-changed": { says: "changed the address of", of: "person", heard: "person" },
  shown: { says: "showed to clients", of: "person", heard: "agency" },
  hidden: { says: "showed to clients no more", of: "person", heard: "agency" },
  "status-set": { says: "set the status of", of: "person", heard: "agency" },
  "membership-given": { says: "gave a membership to", of: "person", heard: "agency" },
  "roles-changed": { says: "changed the roles of", of: "person", heard: "agency" },
  "membership-ended": { says: "ended a membership", of: "person", heard: "agency" },
  "lead-handed-over": { says: "handed the lead over", of: "person", heard: "agency" },
  "known-asked-for": { says: "asked for somebody known", of: "person", heard: "agency" },
  "known-taken-back": { says: "took back what was asked for somebody known", of: "person", heard: "agency" },
  "sessions-ended": { says: "ended sessions of", of: "person", heard: "agency" },
  "password-chosen": { says: "chose a password", of: "person", heard: "person" },
  "passkey-made": { says: "made a passkey", of: "person", heard: "person" },
  "passkey-removed": { says: "removed a passkey", of: "person", heard: "person" },
  "second-factor-on": { says: "turned a second factor on", of: "person", heard: "person" },
  "second-factor-off": { says: "turned a second factor off", of: "person", heard: "person" },
  "second-factor-taken": { says: "took a second factor away", of: "person", heard: "person" },
  "second-factor-guessed": { says: "second factor guessed", of: "person", heard: "person" },
  "second-factor-stopped": { says: "second factor stopped", of: "person", heard: "person" },
  "key-made": { says: "made a key", of: "portal", heard: "agency" },
  "key-made-for": { says: "made a key for", of: "person", heard: "person" },
  "key-ended": { says: "ended a key", of: "portal", heard: "agency" },
  "key-brought-back": { says: "brought a key back", of: "portal", heard: "agency" },
  "key-removed": { says: "removed a key", of: "portal", heard: "agency" },
  "source-connected": { says: "connected another system", of: "portal", heard: "agency" },
  "source-changed": { says: "changed what is read of another system", of: "portal", heard: "agency" },
  "source-paused": { says: "paused reading another system", of: "portal", heard: "agency" },
  "source-resumed": { says: "resumed reading another system", of: "portal", heard: "agency" },
  "source-disconnected": { says: "disconnected another system", of: "portal", heard: "agency" },
  "tool-used": { says: "used a tool", of: "portal", heard: "agency" },
  "webhook-made": { says: "made a webhook", of: "portal", heard: "agency" },
  "webhook-changed": { says: "changed a webhook", of: "portal", heard: "agency" },
  "webhook-paused": { says: "paused a webhook", of: "portal", heard: "agency" },
  "webhook-resumed": { says: "resumed a webhook", of: "portal", heard: "agency" },
  "webhook-removed": { says: "removed a webhook", of: "portal", heard: "agency" },
  "provider-known": { says: "is known by a provider from now on", of: "person", heard: "agency" },
  "provider-registered": { says: "registered a provider", of: "portal", heard: "agency" },
  "provider-removed": { says: "removed a provider", of: "portal", heard: "agency" },
  "doors-changed": { says: "changed the doors", of: "portal", heard: "agency" },
  "company-pages-changed": { says: "changed what companies do themselves", of: "portal", heard: "agency" },
  "joining-changed": { says: "changed who may join", of: "portal", heard: "agency" },
  "join-asked": { says: "asked to join", of: "portal", heard: "agency" },
  joined: { says: "joined", of: "person", heard: "agency" },
  "mail-stopped": { says: "wants no mail", of: "person", heard: "agency" },
  "mail-wanted": { says: "wants mail again", of: "person", heard: "agency" },
  "domain-added": { says: "added a domain", of: "portal", heard: "agency" },
  "domain-shown": { says: "showed a domain", of: "portal", heard: "agency" },
  "domain-chosen": { says: "chose the main address", of: "portal", heard: "agency" },
  "domain-removed": { says: "removed a domain", of: "portal", heard: "agency" },
  "log-age-set": { says: "set how long the log is kept", of: "portal", heard: "agency" },
  "payments-set-up": { says: "payments set up", of: "money", heard: "agency" },
  "payments-taken-away": { says: "payments taken away", of: "money", heard: "agency" },
  "subscription-changed": { says: "subscription changed", of: "money", heard: "payers" },
  bought: { says: "bought", of: "money", heard: "payers" },
  "order-taken-along": { says: "order taken along", of: "money", heard: "payers" },
  "paid-outside": { says: "paid outside", of: "money", heard: "payers" },
  "paid-back": { says: "paid back", of: "money", heard: "payers" },
  "paid-to-credit": { says: "paid to credit", of: "money", heard: "payers" },
  "paid-for-nothing": { says: "paid for nothing", of: "money", heard: "agency" },
  "credit-given": { says: "credit given", of: "money", heard: "payers" },
  "feature-given": { says: "feature given", of: "money", heard: "payers" },
  "feature-taken-back": { says: "feature taken back", of: "money", heard: "payers" },
  "invoice-void": { says: "invoice void", of: "money", heard: "payers" },
  "payment-came": { says: "payment received", of: "money", heard: "payers" },
  "order-refused": { says: "order not fulfilled", of: "money", heard: "payers" },
  "payment-failed": { says: "payment failed", of: "money", heard: "payers" },
  "trial-ending": { says: "trial ends soon", of: "money", heard: "payers" },
  "billing-country-set": { says: "billing country set", of: "money", heard: "agency" },
  "method-kept": { says: "way to pay kept", of: "money", heard: "payers" },
} as const satisfies Record<string, Kind>;

export type EventKind = keyof typeof EVENT_KINDS;

/** The kinds that such hearers hear of, besides the agency: what feeds them has an answer for each, or does not compile. */
export type HeardBy<H extends Kind["heard"]> = { [K in EventKind]: (typeof EVENT_KINDS)[K]["heard"] extends H ? K : never }[EventKind];
/** Every kind of event that these hear of. */
export const kindsHeardBy = <H extends Kind["heard"]>(hearers: H): readonly HeardBy<H>[] =>
  (Object.keys(EVENT_KINDS) as EventKind[]).filter((k): k is HeardBy<H> => EVENT_KINDS[k].heard === hearers);

/** What stays in the log whatever its age: money, which records became one, and who said how long the log is kept. */
export const keptForGood = (kind: string): boolean => {
  const known = EVENT_KINDS[kind as EventKind] as Kind | undefined;
  return known?.of === "money" || kind === "record-took-over" || kind === "log-age-set";
};
/** An act that the agency made itself, by its id. */
export type OwnAct = `act:${string}`;

/** Whether a word that came from outside or from storage names a kind of event. */
export const isEventKind = (name: string): name is EventKind => Object.hasOwn(EVENT_KINDS, name);
/** The agency's own act that a recorded name stands for; null where it is one of Elkhorn's kinds. */
export const ownActOf = (name: string): string | null => (name.startsWith("act:") ? name.slice(4) : null);

/** `actName`: what the agency calls its own act, undefined where that is gone. What an older version recorded otherwise is said as it stands. */
export function eventWords(name: string, actName: (id: string) => string | undefined): string {
  const own = ownActOf(name);
  if (own !== null) return `did “${actName(own) ?? "an act that is gone"}” on`;
  return isEventKind(name) ? EVENT_KINDS[name].says : name;
}
