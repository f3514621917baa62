import type { Reporter } from "vitest/node";

export const LONG: Readonly<Record<string, readonly string[]>>;
export function changedStories(): string[];
export const notePassed: Reporter;
