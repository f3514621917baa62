/**
 * Calls that are on their way out: each answer says since when (RFC 9745, Deprecation), until when (RFC 8594, Sunset) and what to use instead, and
 * so do the OpenAPI document and the reference. How one is retired: docs/adding.md.
 */
export interface Outdated {
  readonly method: string;
  /** As the OpenAPI document has it, such as /tables/{table}/export. */
  readonly path: string;
  /** Moments in ISO 8601. */
  readonly since: string;
  /** From when it answers nobody any more; null while that is open. */
  readonly until: string | null;
  /** What to use instead, as an address of the document. */
  readonly instead: string | null;
}

export const OUTDATED: readonly Outdated[] = [];

const patternOf = (path: string): RegExp => new RegExp(`^${path.replaceAll(/\{[^}]+\}/g, "[^/]+")}$`);

/** The one that a request is of; `path` is what comes after /api/v1. */
export const outdatedCall = (method: string, path: string, list = OUTDATED): Outdated | undefined =>
  list.find((o) => o.method === method && patternOf(o.path).test(path));

/** RFC 9745 section 2.1: a date of structured fields, "@" and seconds. RFC 8594 section 3: a date of HTTP. RFC 5829: the successor. */
export const outdatedHeaders = (o: Outdated, base: string): Record<string, string> => ({
  deprecation: `@${Math.floor(Date.parse(o.since) / 1_000)}`,
  ...(o.until ? { sunset: new Date(o.until).toUTCString() } : {}),
  link: [
    `<${base}/-/reference>; rel="deprecation"; type="text/html"`,
    ...(o.instead ? [`<${base}/api/v1${o.instead}>; rel="successor-version"`] : []),
  ].join(", "),
});

interface Document {
  readonly paths?: object;
}
/** The document with `deprecated` at each of them. */
export function withOutdated<T extends Document>(doc: T, list = OUTDATED): T {
  if (list.length === 0) return doc;
  const paths = Object.fromEntries(
    Object.entries(doc.paths ?? {}).map(([path, methods]: [string, object]) => [
      path,
      Object.fromEntries(
        Object.entries(methods).map(([method, operation]) => {
          const o = outdatedCall(method.toUpperCase(), path, list);
          return [method, o ? { ...operation, deprecated: true } : operation];
        }),
      ),
    ]),
  );
  return { ...doc, paths };
}
