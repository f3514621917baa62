/**
 * A write that nobody may do who asks for it: somebody's session ended, or somebody tries what is not theirs. It is no fault of the program,
 * so the log has one line of it and no stack. The framework writes whatever an action throws, with all that can be listed of it.
 */
export class RefusedWrite extends Error {
  readonly digest!: string;
  constructor(message: string) {
    super(message);
    this.stack = `Refused: ${message}`;
    // Unlisted; set here, the framework makes none of its own.
    Object.defineProperty(this, "digest", { value: "refused", writable: true, enumerable: false });
  }
}
