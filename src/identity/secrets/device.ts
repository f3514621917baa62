/** A device that its person has been in from: strangers' wrong guesses elsewhere do not keep it waiting. It opens nothing by itself. */
import { mac, macMatches, newToken } from "./secrets";

export const DEVICE_LASTS = 400 * 86_400_000; // as long as browsers keep a cookie (RFC 6265bis section 5.5)

/** For the cookie: whose it is cannot be read from it, nor made up. */
export function deviceToken(portal: string, account: string): string {
  const id = newToken().slice(0, 22);
  return `${id}.${mac(portal, "device", `${account} ${id}`)}`;
}

/** The device's id, where the token was made for this account; null otherwise. */
export function deviceOf(portal: string, account: string, token: string | undefined): string | null {
  const [id, signature] = token?.split(".") ?? [];
  return id && signature && macMatches(portal, "device", `${account} ${id}`, signature) ? id : null;
}
