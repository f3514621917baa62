/** Whether there was no room left on the disk: what was under way is undone then, and can be asked for again. */
export const isFull = (e: unknown): boolean => ["SQLITE_FULL", "ENOSPC"].includes(String((e as { code?: unknown } | null)?.code));

export const FULL = "The disk is full. Nothing was changed and nothing is damaged; make room and try again.";
