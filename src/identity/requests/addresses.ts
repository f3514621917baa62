/** Where a portal is reached: on a host of its own or, where the operator turned that on, under a path of the main one. */

import { cache } from "react";
import { config } from "@/config";
import { mainDomain } from "@/data/installation/domains";

/** At the port and with the scheme of this installation. */
export const addressAt = (host: string): string => {
  const { address } = config();
  return `${address.protocol}//${host}${address.port ? `:${address.port}` : ""}`;
};

/** Looked up once a request, however many links name it. */
const mainOf = cache(mainDomain);

/** The main one: what links in mails name, and where passkeys work. Without a slash at the end. */
export function portalAddress(slug: string): string {
  const domain = mainOf(slug);
  return domain ? addressAt(domain) : ownAddress(slug);
}

/** The address that a portal has without a domain of the agency's. */
export function ownAddress(slug: string): string {
  const { address, paths } = config();
  return paths ? `${address.origin}/p/${slug}` : `${address.protocol}//${slug}.${address.host}`;
}

/** Origin of the back office. */
export const officeAddress = (): string => config().address.origin;

/** How SMS leave this installation, told to the owner who turns that method on. */
export const smsVia = (): string =>
  config().sms === "stand-in" ? "No gateway is set: they go to the stand-in telephone." : "They go by the gateway that is set.";
