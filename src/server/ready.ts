import { control } from "@/data/file/open";
import { once } from "@/data/file/per-process";

/** Set by the server when it is asked to end. */
const ending = once("ending", () => ({ is: false }));

/** A sentence if this process should get no requests now. */
export function readiness(): string | null {
  if (ending.is) return "Elkhorn is stopping.";
  try {
    control().db.prepare("SELECT count(*) FROM portals").get();
    return null;
  } catch {
    return "The installation's file cannot be read.";
  }
}
