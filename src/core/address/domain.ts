/** Names of hosts that an agency brings along. */
import { err, ok, type Result } from "../result";

/** RFC 1123 section 2.1 over RFC 1035 section 2.3.4: labels of 1 to 63 letters, digits and hyphens, 253 octets in all. */
const LABEL = /^[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/;
/** RFC 6761 and RFC 7686: names that lead nowhere outside, or to this very machine. */
const NOWHERE = new Set(["localhost", "local", "invalid", "onion", "internal", "arpa"]);

/**
 * The name of a host as a browser sends it (RFC 5890: other scripts as xn--…), from what somebody wrote: an address, or the name alone.
 * `own` is the host that portals stand below anyway.
 */
export function readDomain(written: string, own: string): Result<string, string> {
  const bare = written.trim().replace(/^https?:\/\//i, "");
  const name = bare.replace(/\/$/, "");
  if (name === "") return err("Write the name of a host, such as clients.agency.example.");
  if (/[/?#@]/.test(name)) return err("Write the host alone, without a path: clients.agency.example.");
  if (/:\d*$/.test(name)) return err("Write it without a port: the portal answers at the port of this installation.");
  let host: string;
  try {
    host = new URL(`http://${name}`).hostname.replace(/\.$/, "");
  } catch {
    return err(`“${name.slice(0, 80)}” is no name of a host.`);
  }
  if (/^[\d.]+$/.test(host) || host.startsWith("[")) return err("An address in numbers is no name that people could keep. Write a name.");
  const labels = host.split(".");
  if (host.length > 253 || labels.some((l) => !LABEL.test(l))) return err(`“${name.slice(0, 80)}” is no name of a host.`);
  if (labels.length < 2 || NOWHERE.has(labels.at(-1)!))
    return err(`${host} leads nowhere from outside. Write a name that is registered to you.`);
  if (host === own || host.endsWith(`.${own}`))
    return err(`${host} is a name of this installation's own. Portals have theirs below it already.`);
  return ok(host);
}

/** Where a text record shows whose a name is. A name of its own below it, so that it stands in nobody's way (RFC 8552). */
export const recordName = (host: string): string => `_elkhorn.${host}`;
/** The text of the TXT record that shows a domain to be the agency's. */
export const recordText = (token: string): string => `elkhorn-portal=${token}`;
/** RFC 8615: what a site tells about itself. */
export const FILE_PATH = "/.well-known/elkhorn-portal.txt";
