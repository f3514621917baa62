/**
 * What follows from an object and a name, worked out once and forgotten with the object. Scopes and predicates are kept with their
 * policy, so what many viewers share is the same object, and is counted or joined once for all of them.
 */
export class Kept<O extends object, N, V> {
  readonly #known = new WeakMap<O, Map<N, V>>();

  of(owner: O, name: N, make: () => V): V {
    let named = this.#known.get(owner);
    if (!named) this.#known.set(owner, (named = new Map()));
    const known = named.get(name);
    // A value may be undefined itself; only then does the map have to say whether it is known.
    if (known !== undefined || named.has(name)) return known as V;
    const made = make();
    named.set(name, made);
    return made;
  }
}
