/**
 * Networks that a key may come from. A caller is known by an address of IPv4 or by a /64 of IPv6, which is what one place has (RFC 6177): no
 * narrower network of IPv6 can be told apart.
 */
import ipaddr from "ipaddr.js";
import { err, ok, type Result } from "@/core/result";

export const MOST_NETWORKS = 50;

/** "192.0.2.7", "192.0.2.0/24", "2001:db8::/48", one a line. Said as they are compared. */
export function readNetworks(text: string): Result<string[], string> {
  const words = text.split(/[\s,;]+/).filter(Boolean);
  if (words.length > MOST_NETWORKS) return err(`A key has up to ${MOST_NETWORKS} addresses.`);
  const found: string[] = [];
  for (const word of words) {
    const [address = "", bits, more] = word.split("/");
    if (more !== undefined || !isPlain(address) || (bits !== undefined && !/^\d{1,3}$/.test(bits)))
      return err(`“${word.slice(0, 60)}” is no address. Write one as 192.0.2.7, or a network as 192.0.2.0/24.`);
    const ip = ipaddr.parse(address);
    const most = ip.kind() === "ipv4" ? 32 : 64;
    const width = bits === undefined ? most : Number(bits);
    if (width > most) return err(`“${word}”: a network has at most ${most} bits here${most === 64 ? ", as IPv6 has places of /64" : ""}.`);
    found.push(`${ip.toString()}/${width}`);
  }
  return ok([...new Set(found)]);
}

/** Four numbers, or IPv6: other ways to write an address are read differently by different programs. */
const isPlain = (address: string): boolean => ipaddr.IPv4.isValidFourPartDecimal(address) || ipaddr.IPv6.isValid(address);

/** Whether a caller, as the server tells where they come from, is in one of the networks. No network lets everybody in. */
export function comesFrom(networks: readonly string[], caller: string): boolean {
  if (networks.length === 0) return true;
  const [address = ""] = caller.split("/");
  if (!ipaddr.isValid(address)) return false;
  const ip = ipaddr.process(address);
  return networks.some((n) => {
    const [net, bits] = ipaddr.parseCIDR(n);
    return net.kind() === ip.kind() && ip.match([net, bits] as never);
  });
}
