/**
 * One of each in a process. Next bundles a module once for each kind of entry (pages, route handlers, actions), so a module's own
 * variable is not one of each: what must be is kept on the process under a name.
 */
const all: Map<string, unknown> = ((globalThis as { __elkhorn?: Map<string, unknown> }).__elkhorn ??= new Map());

/** The one thing of that name in this process, made when it is first asked for. */
export function once<T>(name: string, make: () => T): T {
  if (!all.has(name)) all.set(name, make());
  return all.get(name) as T;
}
