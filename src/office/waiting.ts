import { cache } from "react";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { waitingCount } from "@/joining/approval";

/** How many wait for somebody to let them in: asked once a request by the rail and the page beside it. */
export const waitingIn = cache((p: OfficePortal): number => waitingCount(p.file, p.owner));
