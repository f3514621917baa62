/**
 * How long random tests run. `npm test` does a fifth of the cases, each time with another seed, which the test's name prints;
 * `npm run test:long` does all of them. `ELKHORN_SEED=<seed>` repeats a run.
 */
const whole = process.env.ELKHORN_LONG === "1";

export const seed = Number(process.env.ELKHORN_SEED ?? Date.now() % 1_000_000_007);

/** How many of `all` cases this run does. */
export const runs = (all: number): number => (whole ? all : Math.ceil(all / 5));

/** The same, as a test's name says it. */
export const said = (all: number): string => runs(all).toLocaleString("en");

/**
 * What a run of all cases meets at the least, so that none passes for having met nothing; a short run meets a quarter of its share whatever
 * the seed (common practice, no source: rare cases come in clusters).
 */
export const enough = (all: number): number => (whole ? all : Math.ceil(all / 20));
