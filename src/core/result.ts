/** What a person can cause is data, not an exception; exceptions are for programmers' mistakes. */
export type Result<T, E> = { ok: true; value: T } | { ok: false; error: E };

/** A result that holds what was asked for. */
export const ok = <T>(value: T): { ok: true; value: T } => ({ ok: true, value });
/** A result that holds why not. */
export const err = <E>(error: E): { ok: false; error: E } => ({ ok: false, error });
