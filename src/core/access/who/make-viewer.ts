/** Makes a viewer. The layer check lets `identity` and tests import this file and nobody else: a viewer proves who asks. */
import type { Viewer, ViewerFacts } from "./viewer";

/** A viewer of these facts, with nothing worked out yet. */
export const viewerFrom = (facts: ViewerFacts): Viewer =>
  Object.freeze({ ...facts, worked: { policy: null, bases: null, scopes: null, many: null } }) as unknown as Viewer;
