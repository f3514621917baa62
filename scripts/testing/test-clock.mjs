// A clock for tests: with ELKHORN_TEST_AHEAD (milliseconds) set, `new Date()` and `Date.now()` are so far ahead of the machine's clock.
// It is loaded before everything else (`node --import`), by the runner, the servers it starts and their threads; the browser gets the same
// by `dateAhead` (tests/support/browser.ts). A server outside of a test run refuses to start with it (scripts/serve.mjs).

/** Moves the global Date of the surroundings in which it runs. Self-contained: its source is sent to the browser, too. */
export function moveDate(ahead) {
  const RealDate = Date;
  const realNow = RealDate.now.bind(RealDate);
  const now = () => realNow() + ahead;
  RealDate.now = now;
  const Moved = new Proxy(RealDate, {
    construct: (of, given, as) => Reflect.construct(of, given.length === 0 ? [now()] : given, as === Moved ? of : as),
    apply: (of) => new of(now()).toString(),
  });
  RealDate.prototype.constructor = Moved;
  globalThis.Date = Moved;
}

// Once in a thread: stories import this file, too, and would be ahead twice.
const MOVED = Symbol.for("elkhorn.test-clock");
const ahead = Number(process.env.ELKHORN_TEST_AHEAD);
if (ahead && !globalThis[MOVED]) {
  globalThis[MOVED] = true;
  moveDate(ahead);
}
