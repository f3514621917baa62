/** What messages are sent about. A room that sends adds its occasion here: what it may say of whom, and how it reads at first. */

export interface Occasion {
  readonly name: string;
  /** When it is sent, for whoever reads the outbox. */
  readonly about: string;
  /** Words in braces that it may use; those that it cannot do without. */
  readonly words: readonly Word[];
  readonly needs: readonly Word[];
  /** Whether its link opens the door for whoever holds it: then nobody but its receiver reads it, not even in the outbox. */
  readonly secret: boolean;
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
    secret: false,
    subject: "{portal} has opened its portal to you",
    body: "Hello {first-name},\n\n{by} invites you to the portal of {portal}:\n{address}\n\n{note}\n\nThis link is yours alone. It works once, and for 14 days:\n{link}",
  },
  door: {
    name: "Sign-in link",
    about: "Somebody asked for a link on the sign-in page.",
    words: [...EVERY, "link"],
    needs: ["link"],
    secret: true,
    subject: "Your link to {portal}",
    body: "Hello {first-name},\n\nsomebody, most likely you, asked for a link to the portal of {portal}. It works once, and for half an hour:\n{link}\n\nInside you can choose a new password. If it was not you, nothing has happened: leave this unopened.",
  },
} as const satisfies Record<string, Occasion>;

export type OccasionId = keyof typeof OCCASIONS;
export const occasion = (id: OccasionId): Occasion => OCCASIONS[id];
export const isOccasion = (id: string): id is OccasionId => Object.hasOwn(OCCASIONS, id);
