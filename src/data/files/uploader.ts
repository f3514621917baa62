/** By whom a file was sent: it is theirs alone until a record has taken it. */
import type { Viewer } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";

/** Who sends a file, as it is stored with it. */
export const uploader = (viewer: Viewer): string => actorText(actorOf(viewer));
