/** An order is found again by a link in the mail: whoever holds it reads that order, and nothing else. */
import { createHash } from "node:crypto";
import type { PortalFile } from "@/data/file/open";
import { portalAddress } from "@/identity/requests/addresses";
import { mac, macMatches } from "@/identity/secrets/secrets";

export const orderToken = (file: PortalFile, order: string): string => `${order}.${mac(file.id, "order", order)}`;
/** The whole address of an order's page, which whoever has it may open. */
export const orderHref = (file: PortalFile, order: string): string => `${portalAddress(file.slug)}/-/order/${orderToken(file, order)}`;

/** The order's id; null of what was never given out. */
export function orderOf(file: PortalFile, token: string): string | null {
  const [id, signed] = token.split(".");
  return id && signed && macMatches(file.id, "order", id, signed) ? id : null;
}

/** For a guest, who has no session: what their page of waiting is known by. */
export const guestKey = (file: PortalFile, checkout: string): string => mac(file.id, "checkout", checkout);
/** Whether a key is the one of a guest's checkout. */
export const isGuestKey = (file: PortalFile, checkout: string, key: string): boolean => macMatches(file.id, "checkout", checkout, key);

/** Where a form of this very filling-in ended up: the same person or browser, the same thing. */
export const fillingOf = (who: string, filling: string): string => createHash("sha256").update(`${who} ${filling}`).digest("base64url");
