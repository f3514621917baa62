/** What messages are sent about. A room that sends adds its occasion here: what it may say of whom, and how it reads at first. */

export interface Occasion {
  readonly name: string;
  /** When it is sent, as the outbox says it. */
  readonly about: string;
  /** Words in braces that it may use; those that it cannot do without. */
  readonly words: readonly Word[];
  readonly needs: readonly Word[];
  readonly channel: "mail" | "sms";
  /** Whether its link or code opens the door for whoever holds it: then nobody but its receiver reads it, not even in the outbox. */
  readonly secret: boolean;
  /** Sent to who did not ask for it: kept back from whoever wants none, and from addresses that refused some. */
  readonly unasked?: boolean;
  readonly subject: string;
  readonly body: string;
}

export const WORDS = {
  portal: "the portal's name",
  address: "the portal's address",
  name: "their name",
  "first-name": "their first name",
  email: "their e-mail address",
  link: "their link",
  code: "their code of six digits",
  by: "who sends it",
  note: "words of one's own",
} as const;
export type Word = keyof typeof WORDS;

const EVERY = ["portal", "address", "name", "first-name", "email"] as const;

export const OCCASIONS = {
  invited: {
    name: "Invitation",
    about: "Somebody is invited.",
    words: [...EVERY, "link", "by", "note"],
    needs: ["link", "address"],
    channel: "mail",
    secret: false,
    unasked: true,
    subject: "{portal} has opened its portal to you",
    body: "Hello {first-name},\n\n{by} invites you to the portal of {portal}:\n{address}\n\n{note}\n\nThis link is yours alone. It works once, and for 14 days:\n{link}",
  },
  door: {
    name: "Sign-in link",
    about: "Somebody asked for a link on the sign-in page.",
    words: [...EVERY, "link"],
    needs: ["link"],
    channel: "mail",
    secret: true,
    subject: "Your link to {portal}",
    body: "Hello {first-name},\n\nsomebody, most likely you, asked for a link to the portal of {portal}. It works once, and for half an hour:\n{link}\n\nInside you can choose a new password. If it was not you, nothing has happened: leave this unopened.",
  },
  "mail-code": {
    name: "Sign-in code",
    about: "Somebody asked for a code on the sign-in page.",
    words: [...EVERY, "code"],
    needs: ["code"],
    channel: "mail",
    secret: true,
    subject: "Your code for {portal}",
    body: "Hello {first-name},\n\nsomebody, most likely you, asked for a code to sign in to the portal of {portal}. It is good for five minutes:\n{code}\n\nNobody of {portal} will ever ask you for it. If it was not you, nothing has happened.",
  },
  "sms-code": {
    name: "Sign-in code by SMS",
    about: "Somebody asked for a code by SMS on the sign-in page.",
    words: [...EVERY, "code"],
    needs: ["code"],
    channel: "sms",
    secret: true,
    subject: "Code by SMS",
    body: "{code} is your code for {portal}. It is good for five minutes.",
  },
  join: {
    name: "Confirm joining",
    about: "Somebody asks to join: nothing is made before the link is opened.",
    words: [...EVERY, "link"],
    needs: ["link"],
    channel: "mail",
    secret: true,
    subject: "Confirm your address for {portal}",
    body: "Hello {first-name},\n\nsomebody, most likely you, asked to join the portal of {portal} with this address. To go on, open this within a day:\n{link}\n\nIf it was not you, nothing has been made and nothing will be.",
  },
  "join-known": {
    name: "Joining, known already",
    about: "Somebody asks to join with an address that is known.",
    words: [...EVERY, "link"],
    needs: ["link"],
    channel: "mail",
    secret: true,
    subject: "You are known at {portal} already",
    body: "Hello {first-name},\n\nsomebody, most likely you, asked to join the portal of {portal}. You are known there already: this link takes you in once, within half an hour:\n{link}\n\nIf it was not you, nothing has happened.",
  },
  approved: {
    name: "Approved",
    about: "Somebody who waited has been approved.",
    words: [...EVERY, "note"],
    needs: ["address"],
    channel: "mail",
    secret: false,
    unasked: true,
    subject: "You are in: {portal}",
    body: "Hello {first-name},\n\nthe portal of {portal} is open to you now:\n{address}\n\n{note}",
  },
  declined: {
    name: "Declined",
    about: "Somebody who waited has been declined.",
    words: [...EVERY, "note"],
    needs: ["portal"],
    channel: "mail",
    secret: false,
    unasked: true,
    subject: "Your request to {portal}",
    body: "Hello {first-name},\n\n{portal} cannot open its portal to you.\n\n{note}",
  },
  answered: {
    name: "Answered",
    about: "Somebody wrote in a conversation that they take part in.",
    words: [...EVERY, "by", "note"],
    needs: ["note"],
    channel: "mail",
    secret: false,
    unasked: true,
    subject: "A new message at {portal}",
    body: "Hello {first-name},\n\n{by} wrote to you about:\n{note}",
  },
  news: {
    name: "News",
    about: "A version is published, and somebody is told of it.",
    words: [...EVERY, "by", "note"],
    needs: ["note"],
    channel: "mail",
    secret: false,
    unasked: true,
    subject: "Something is new at {portal}",
    body: "Hello {first-name},\n\n{note}\n\n{address}\n\n{by}",
  },
  paid: {
    name: "Paid",
    about: "Something was bought, or a plan renewed, and it is paid.",
    words: [...EVERY, "note"],
    needs: ["note"],
    channel: "mail",
    secret: false,
    subject: "Your payment to {portal}",
    body: "Hello {first-name},\n\nthank you: your payment to {portal} has come.\n\n{note}",
  },
  "payment-due": {
    name: "Payment failed",
    about: "A payment failed: on the day, on the third after it, and on the last before the doors are shut.",
    words: [...EVERY, "note"],
    needs: ["note", "address"],
    channel: "mail",
    secret: false,
    subject: "A payment to {portal} is due",
    body: "Hello {first-name},\n\n{note}\n\nPay, or give another way to pay, here:\n{address}/-/billing",
  },
  "trial-ends": {
    name: "Trial ends",
    about: "A trial is over in three days.",
    words: [...EVERY, "note"],
    needs: ["note"],
    channel: "mail",
    secret: false,
    subject: "Your trial of {portal} is nearly over",
    body: "Hello {first-name},\n\n{note}\n\nYour plan is here:\n{address}/-/billing",
  },
  "plan-changed": {
    name: "Plan changed",
    about: "A plan has ended, was cancelled, paused, or given more days.",
    words: [...EVERY, "note"],
    needs: ["note"],
    channel: "mail",
    secret: false,
    subject: "Your plan at {portal}",
    body: "Hello {first-name},\n\n{note}\n\nNothing is deleted. Your plan is here:\n{address}/-/billing",
  },
  "paid-back": {
    name: "Paid back",
    about: "A payment was paid back, in part or whole.",
    words: [...EVERY, "note"],
    needs: ["note"],
    channel: "mail",
    secret: false,
    subject: "{portal} pays you back",
    body: "Hello {first-name},\n\n{note}",
  },
  "new-email": {
    name: "Confirm a new address",
    about: "Somebody gave a new e-mail address, which gets a code.",
    words: [...EVERY, "code"],
    needs: ["code"],
    channel: "mail",
    secret: true,
    subject: "Your code to confirm this address",
    body: "Hello {first-name},\n\nto use this address at the portal of {portal}, write this code there within five minutes:\n{code}",
  },
  "old-email": {
    name: "Confirm leaving an address",
    about: "Somebody gave a new e-mail address; the present one gets a code, too.",
    words: [...EVERY, "code"],
    needs: ["code"],
    channel: "mail",
    secret: true,
    subject: "Your address is about to change",
    body: "Hello {first-name},\n\nsomebody, most likely you, wants to use another address than this at the portal of {portal}. To agree, write this code there within five minutes:\n{code}\n\nIf it was not you, tell {portal}, and choose a new password.",
  },
  "doors-changed": {
    name: "Way in changed",
    about: "Somebody chose a password, made or removed a passkey, or turned a second factor on or off.",
    words: [...EVERY, "note"],
    needs: ["portal", "note"],
    channel: "mail",
    secret: false,
    subject: "How you come in to {portal} has changed",
    body: "Hello {first-name},\n\nat the portal of {portal}: {note}\n\nIf that was not you, ask for a link on the sign-in page, choose a new password, and tell {portal}.",
  },
  "email-changed": {
    name: "Address changed",
    about: "Goes to the former address, when somebody has another.",
    words: [...EVERY],
    needs: ["portal"],
    channel: "mail",
    secret: false,
    subject: "Your address at {portal} has changed",
    body: "Hello {first-name},\n\nfrom now on you sign in to the portal of {portal} with another address. If that was not you, tell {portal} at once.",
  },
} as const satisfies Record<string, Occasion>;

export type OccasionId = keyof typeof OCCASIONS;
/** What is known of an occasion for a message. */
export const occasion = (id: OccasionId): Occasion => OCCASIONS[id];
/** Whether a word that came from outside or from storage names an occasion. */
export const isOccasion = (id: string): id is OccasionId => Object.hasOwn(OCCASIONS, id);
