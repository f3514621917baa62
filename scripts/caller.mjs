// Where a request comes from, for limits on guessing. What a request says of itself counts only where it comes through a proxy that the
// operator has named (ELKHORN_PROXIES: addresses or ranges, with commas between): RFC 7239 section 8.1 on forged forwarding.
import ipaddr from "ipaddr.js";
import proxyAddr from "proxy-addr";

/** Of IPv6 the network: a household has all of its 64 bits to choose from (RFC 6177). */
export function placeOf(address) {
  if (!ipaddr.isValid(address)) return "unknown";
  const ip = ipaddr.process(address);
  return ip.kind() === "ipv4" ? ip.toString() : `${ip.toNormalizedString().split(":").slice(0, 4).join(":")}::/64`;
}

/** Somebody speaks for somebody else, and nobody said that they may: it may be a proxy that was not named, with everybody behind it. */
export const UNCLEAR = "unclear";

export function caller(proxies) {
  const trusted = proxyAddr.compile(
    (proxies ?? "")
      .split(",")
      .map((p) => p.trim())
      .filter(Boolean),
  );
  return (request) => {
    const remote = request.socket.remoteAddress ?? "";
    if (request.headers["x-forwarded-for"] && !(ipaddr.isValid(remote) && trusted(remote, 0))) return UNCLEAR;
    try {
      return placeOf(proxyAddr(request, trusted));
    } catch {
      return placeOf(remote);
    }
  };
}
