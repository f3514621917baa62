/** Cursors carry values that their reader saw; they are signed for one viewer and one query, and mean nothing to another. */
import { sideOf, type Viewer } from "@/core/access/who/viewer";
import { mac, macMatches } from "./secrets";

type Position = readonly (string | number | null)[];

const bound = (viewer: Viewer, query: string, text: string): string =>
  `${sideOf(viewer)} ${viewer.person?.id ?? ""} ${viewer.key?.id ?? ""} ${viewer.membershipId ?? ""} ${query} ${text}`;

/** Where the next page of the API begins, sealed for this viewer and this query. */
export function writeCursor(portal: string, viewer: Viewer, query: string, position: Position): string {
  const text = Buffer.from(JSON.stringify(position)).toString("base64url");
  return `${text}.${mac(portal, "cursor", bound(viewer, query, text))}`;
}

/** Undefined for a cursor that is broken, another viewer's, or another query's. */
export function readCursor(portal: string, viewer: Viewer, query: string, cursor: string): Position | undefined {
  const [text, signature] = cursor.split(".");
  if (!text || !signature || !macMatches(portal, "cursor", bound(viewer, query, text), signature)) return undefined;
  return JSON.parse(Buffer.from(text, "base64url").toString()) as Position;
}
