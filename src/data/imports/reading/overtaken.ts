/** Somebody did something meanwhile that the check could not know of: nothing is imported, and the sentence says what. */
export class Overtaken extends Error {}
