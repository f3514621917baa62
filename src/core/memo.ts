/**
 * What follows from an object and a name, worked out once and forgotten with the object. Scopes and predicates live as long as their
 * policy, so what many viewers share is the same object, and is counted or joined once for all of them.
 */
export class Memo<O extends object, N, V extends object | number | boolean> {
  readonly #known = new WeakMap<O, Map<N, V>>();

  of(owner: O, name: N, make: () => V): V {
    let named = this.#known.get(owner);
    if (!named) this.#known.set(owner, (named = new Map()));
    let value = named.get(name);
    if (value === undefined) named.set(name, (value = make()));
    return value;
  }
}
