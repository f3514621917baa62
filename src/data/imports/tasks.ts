/** What an import does with its whole file, away from the thread that answers requests. */
import type { Owner } from "@/core/access/viewer";
import { type PortalFile, portalFile } from "../file/open";
import { task, viewersTask } from "../threads";
import { checkImport } from "./check";
import { commitImport } from "./commit";
import { analyse } from "./receive";

interface OfPortal {
  readonly portal: string;
  readonly id: string;
}

function opened({ portal }: OfPortal): PortalFile {
  const file = portalFile(portal);
  if (!file) throw new Error(`There is no portal at ${portal} any more.`);
  return file;
}

export const analyseTask = task("analyse an import", ({ id }: { id: string }) => analyse(id));
export const checkTask = task("check an import", (ask: OfPortal & Pick<Parameters<typeof checkImport>[0], "analysis" | "plan">, told) =>
  checkImport({ ...ask, file: opened(ask) }, told),
);
export const commitTask = viewersTask(
  "commit an import",
  (ask: OfPortal & Pick<Parameters<typeof commitImport>[0], "plan" | "newCompanies">, viewer) => {
    if (viewer.kind !== "owner") throw new Error("An import is the owner's to bring in.");
    return commitImport({ ...ask, file: opened(ask) }, viewer as Owner);
  },
);

export const IMPORT_TASKS = [analyseTask, checkTask, commitTask];
