/** Whether whoever looks may pay for the company that they act for: by the roles that the owner says may. */
import { PAYER } from "./book-grants";
import type { Policy } from "./policy";
import { activeRoles } from "./scope";
import type { Viewer } from "./who/viewer";

/** Whether one of the viewer's roles pays for their company. */
export const maysPay = (policy: Policy, viewer: Viewer): boolean =>
  viewer.kind === "person" && viewer.company !== null && viewer.person?.status === "active" && activeRoles(policy, viewer).has(PAYER);
