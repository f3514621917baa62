/** The names of the world: by the system's name servers, and by https from the host itself. */
import { promises as dns } from "node:dns";
import { guardedFetch } from "../outside/guarded";
import type { Names } from "./contract";

const WAITS = 5_000;
const MOST = 1_000;

export const liveNames: Names = {
  id: "system",
  async texts(name) {
    const resolver = new dns.Resolver({ timeout: WAITS, tries: 2 });
    try {
      return (await resolver.resolveTxt(name)).map((parts) => parts.join(""));
    } catch (e) {
      return ["ENOTFOUND", "ENODATA"].includes((e as NodeJS.ErrnoException).code ?? "") ? [] : null;
    }
  },
  async file(host, path) {
    try {
      const answer = await guardedFetch(new URL(`https://${host}${path}`));
      // A redirect would be another host's word.
      return answer.status === 200 ? (await answer.text()).slice(0, MOST) : null;
    } catch {
      return null;
    }
  },
};
