/** What falls due is done by whoever began with the process (src/server/begin.ts), and is asked for here: a room does not know another. */

import type { PortalFile } from "@/data/file/open";
import { once } from "@/data/file/per-process";

type Settle = (file: PortalFile) => Promise<void>;
const kept = once("settling what is due", () => ({ by: null as Settle | null }));

/** Says at the start of a process who does what falls due. */
export const settleBy = (by: Settle): void => {
  kept.by = by;
};
/** Does what falls due in a portal by now. Nothing happens in a process that has said nobody. */
export async function settleDue(file: PortalFile): Promise<void> {
  await kept.by?.(file);
}
