/** A test that counts statements listens here, from before a file is opened. */
export const statements = once("statements heard", () => ({ to: null as ((sql: string) => void) | null }));

/** Named points in work that must survive a killed process, so that a test can kill it just there. Nobody else listens. */
import { once } from "./per-process";

const listeners = once("points", () => new Set<(point: string) => void>());

/** Says that the work has come to a named point. Nothing happens unless a test listens. */
export const reached = (point: string): void => {
  for (const listen of listeners) listen(point);
};
export const atPoints = (listen: (point: string) => void): void => void listeners.add(listen);
