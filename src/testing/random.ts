/**
 * How long random tests run. `npm test` does a fifth of the cases, `npm run test:long` all of them; each run has another seed (vitest.config.ts),
 * which a test's name prints. `ELKHORN_SEED=<seed>` repeats a run.
 */
/** Whether a test goes through all of its cases: `npm run test:long`. */
export const whole = process.env.ELKHORN_LONG === "1";

export const seed = Number(process.env.ELKHORN_SEED);

/** How many of `all` cases this run does. */
export const runs = (all: number): number => (whole ? all : Math.ceil(all / 5));

/** The same, as a test's name says it. */
export const said = (all: number): string => runs(all).toLocaleString("en");

/**
 * More than this a run of all cases meets, so that none passes for having met nothing. A short run is held to nothing: its cases are others
 * each time, and rare ones come in clusters (common practice, no source), so that to ask anything of them would be to ask for luck.
 */
export const enough = (all: number): number => (whole ? all : -1);
