/** Where somebody may be sent back to. */

/**
 * Only a path of this very portal: read as a browser reads it (WHATWG URL), so that "//elsewhere", "/\\elsewhere" and "/.//elsewhere" are
 * seen for the other sites that they are. Comes back as ASCII, which is all that a header holds.
 */
export function safePath(to: string | undefined | null): string {
  const here = "http://portal.invalid";
  if (!to?.startsWith("/") || !URL.canParse(to, here)) return "/";
  const { origin, pathname, search, hash } = new URL(to, here);
  return origin === here && !pathname.startsWith("//") ? pathname + search + hash : "/";
}
