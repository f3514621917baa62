/** Addresses of this machine and its neighbourhood: nothing that a person types may lead there. */
import { BlockList, isIP } from "node:net";

/** RFC 6890 and the IANA registries of special-purpose addresses. */
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
  ["64:ff9b:1::", 48],
  ["fc00::", 7],
  ["fe80::", 10],
  ["fec0::", 10],
  ["ff00::", 8],
] as const)
  NEAR.addSubnet(net, bits, "ipv6");

/** IPv4 in IPv6 (mapped, 6to4) is checked as the IPv4 address that it leads to. What is no address is near: nobody is let through by a mistake. */
export function isNear(address: string): boolean {
  const plain = address.replace(/^\[|\]$/g, "").split("%")[0]!;
  const four = within(plain) ?? plain;
  const family = isIP(four);
  return family === 0 || NEAR.check(four, family === 6 ? "ipv6" : "ipv4");
}

function within(address: string): string | null {
  const dotted = /^::(?:ffff:)?(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (dotted) return dotted;
  const hex = /^::ffff:([0-9a-f]{1,4}):([0-9a-f]{1,4})$/i.exec(address) ?? /^2002:([0-9a-f]{1,4}):([0-9a-f]{1,4}):/i.exec(address);
  if (!hex) return null;
  const [high, low] = [Number.parseInt(hex[1]!, 16), Number.parseInt(hex[2]!, 16)];
  return [high >> 8, high & 255, low >> 8, low & 255].join(".");
}
