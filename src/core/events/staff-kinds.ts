/** What staff do about staff, and about their own way in: each kind with its words in the back office, between who did it and to whom. */
export const STAFF_KINDS = {
  invited: "asked in",
  "invitation-withdrawn": "took an invitation back",
  "came-in": "came in for the first time",
  "role-given": "gave a role",
  "made-active": "set to active",
  "made-inactive": "set to inactive",
  "password-changed": "changed their password",
  "password-chosen": "chose a new password by a link",
  "second-factor-on": "turned a second factor on",
  "second-factor-off": "turned their second factor off",
  "second-factor-taken": "took a second factor away",
  "second-factor-guessed": "ten wrong codes of the second factor",
  "second-factor-stopped": "twenty wrong codes: no more are taken",
  "passkey-made": "made a passkey",
  "passkey-removed": "removed a passkey",
  "signed-out-elsewhere": "signed out elsewhere",
} as const;

export type StaffKind = keyof typeof STAFF_KINDS;

/** What an older version recorded otherwise is said as it stands. */
export const staffWords = (kind: string): string => (Object.hasOwn(STAFF_KINDS, kind) ? STAFF_KINDS[kind as StaffKind] : kind);
