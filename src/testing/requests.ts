/** What the framework gives a page or an action, played: cookies, headers, and what React keeps for one request. */

export const jar = new Map<string, string>();
export const head = new Map<string, string>();

export const playedHeaders = () => ({
  cookies: async () => ({
    get: (name: string) => (jar.has(name) ? { value: jar.get(name) } : undefined),
    set: () => {},
    delete: () => {},
  }),
  headers: async () => new Headers([...head]),
});

/** Objects are told apart by themselves, as React does it. */
const numbers = new WeakMap<object, number>();
let last = 0;
function numberOf(o: object): number {
  const known = numbers.get(o) ?? ++last;
  numbers.set(o, known);
  return known;
}

const requests: Map<unknown, unknown>[] = [];

/** In place of React's `cache`, as it is within one request. */
export function memoized<A extends unknown[], R>(work: (...args: A) => R): (...args: A) => R {
  const known = new Map<unknown, R>();
  requests.push(known);
  return (...args) => {
    const key = args.map((a) => (typeof a === "object" && a !== null ? `#${numberOf(a)}` : JSON.stringify(a))).join();
    if (!known.has(key)) known.set(key, work(...args));
    return known.get(key)!;
  };
}

/** What was kept for the request before is forgotten. */
export const nextRequest = (): void => {
  for (const known of requests) known.clear();
};
