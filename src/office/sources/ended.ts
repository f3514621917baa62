import { once } from "@/data/file/per-process";

/** Ends a reading with a sentence. `stop`: somebody must do something before the next one. */
export class Ended extends Error {
  constructor(
    message: string,
    readonly stop: boolean,
  ) {
    super(message);
  }
}

const ending = once("ending", () => ({ is: false }));
/** Whether this process is about to end: what is being read is left to the next. */
export const isEnding = (): boolean => ending.is;
