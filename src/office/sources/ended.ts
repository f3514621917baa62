/** Ends a reading with a sentence. `stop`: somebody must do something before the next one. */
export class Ended extends Error {
  constructor(
    message: string,
    readonly stop: boolean,
  ) {
    super(message);
  }
}
