// The days and hours at which tests that know dates are run once more.
import { join } from "node:path";
import { pathToFileURL } from "node:url";

/** In UTC. The demo's portals are in Europe/London. */
export const MOMENTS = {
  "end of January": "2027-01-31T10:00:00Z",
  "leap day": "2028-02-29T10:00:00Z",
  "clocks go forward": "2027-03-28T01:30:00Z", // 01:30 does not exist in London on this day: it is 02:30 there
  "clocks go back": "2027-10-31T00:30:00Z", // 01:30 in London, for the first of two times
  "end of the year": "2027-12-31T23:59:00Z",
  "a month that begins on a Tuesday": "2027-06-01T10:00:00Z",
};

/** Tests that know dates, by the beginning of their paths: `npm run test:long` runs them at all moments. */
export const DATED = [
  "src/core/billing",
  "src/core/text",
  "src/core/time",
  "src/data/billing",
  "src/data/file",
  "src/data/jobs",
  "src/features/pay",
  "src/features/people/way-in",
  "src/features/rehearsal",
  "src/identity/providers",
  "src/identity/sessions/ends",
  "src/services/payments",
];
/** What `npm test` runs of them once more, and when: a clean run has a quarter of an hour. */
export const SHORT = ["clocks go back", "end of the year"];
export const SHORTLY = [
  "src/core/billing",
  "src/core/text",
  "src/core/time",
  "src/data/jobs",
  "src/features/rehearsal",
  "src/services/payments",
];

/** The environment in which `moment` (one of MOMENTS, or ISO 8601) is now, and time goes on from there. Throws for what is neither. */
export function clockAt(moment, env = process.env) {
  const at = Date.parse(MOMENTS[moment] ?? moment);
  if (Number.isNaN(at))
    throw new Error(`"${moment}" is no moment. There are: ${Object.keys(MOMENTS).join(", ")}; or write 2028-02-29T10:00:00Z.`);
  const preload = `--import=${pathToFileURL(join(import.meta.dirname, "test-clock.mjs"))}`;
  return { ...env, ELKHORN_TEST_AHEAD: String(at - Date.now()), NODE_OPTIONS: `${env.NODE_OPTIONS ?? ""} ${preload}`.trim() };
}
