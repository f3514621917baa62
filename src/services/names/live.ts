/** The names of the world: by the system's name servers, and by https from the host itself. */
import { promises as dns } from "node:dns";
import { request } from "node:https";
import { BlockList, isIP, type LookupFunction } from "node:net";
import type { Names } from "./contract";

const WAITS = 5_000;
const MOST = 1_000;

/** Nothing of this machine's own neighbourhood is fetched, whatever a name server says (RFC 6890, special-purpose addresses). */
const NEAR = new BlockList();
for (const [net, bits] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["224.0.0.0", 3],
] as const)
  NEAR.addSubnet(net, bits, "ipv4");
for (const [net, bits] of [
  ["::", 127],
  ["64:ff9b::", 96],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
] as const)
  NEAR.addSubnet(net, bits, "ipv6");
/** IPv4 written as IPv6 is checked as IPv4. */
export const isNear = (address: string): boolean => {
  const four = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1] ?? address;
  return NEAR.check(four, isIP(four) === 6 ? "ipv6" : "ipv4");
};

/** The address that is connected to is the one that was looked at: it cannot change in between. */
const lookup: LookupFunction = (host, options, done) => {
  dns.lookup(host, { all: true }).then(
    (all) => {
      const far = all.find((a) => !isNear(a.address));
      if (!far) done(new Error(`${host} leads to no address outside.`), "", 4);
      else if (options.all) done(null, [far]);
      else done(null, far.address, far.family);
    },
    (e: NodeJS.ErrnoException) => done(e, "", 4),
  );
};

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
  file: (host, path) =>
    new Promise((done) => {
      const asked = request({ host, path, method: "GET", lookup, timeout: WAITS, signal: AbortSignal.timeout(2 * WAITS) }, (answer) => {
        if (answer.statusCode !== 200) {
          answer.destroy();
          return done(null); // a redirect would be another host's word
        }
        let text = "";
        answer.setEncoding("utf8");
        answer.on("data", (part: string) => {
          text += part;
          if (text.length >= MOST) answer.destroy();
        });
        answer.on("close", () => done(text.slice(0, MOST)));
      });
      asked.on("timeout", () => asked.destroy());
      asked.on("error", () => done(null));
      asked.end();
    }),
};
