/** Server time of a portal's list page against a page of the same markup with no data, in the production build. */
import { median, print, round } from "./measure";
import { call, served } from "./served";

export const benchPages = (): Promise<void> =>
  served(async ({ port, cookie }) => {
    const dana = await cookie("dana@saltmarsh.example");
    const list = () => call(port, "fernhill.localhost", "/signs", dana);
    const bare = () => call(port, "localhost", "/bench/list");
    const [l, b] = [await list(), await bare()];
    if (l.status !== 200 || b.status !== 200) throw new Error(`The pages answered ${l.status} and ${b.status}.`);
    for (let i = 0; i < 60; i++) {
      await list();
      await bare();
    }
    const ours: number[] = [];
    const theirs: number[] = [];
    for (let i = 0; i < 120; i++) {
      ours.push((await list()).ms);
      theirs.push((await bare()).ms);
    }
    print({
      name: "portal list page, server time",
      ratio: round(median(ours.map((x, i) => x / theirs[i]!))),
      unit: `x a bare page of the same markup (${round(median(theirs))} ms, ${b.bytes} against ${l.bytes} bytes)`,
      goal: "<= 1.5",
    });
  });
