/** Makes a switch over a closed union exhaustive: a new member is a type error at every reader. */
export function assertNever(x: never): never {
  throw new Error(`Unhandled case: ${JSON.stringify(x)}. Add it to the switch that reached this line.`);
}
