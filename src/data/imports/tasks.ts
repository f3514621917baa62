/** What an import does with its whole file, away from the thread that answers requests. */
import type { Owner } from "@/core/access/who/viewer";
import { type PortalFile, portalFile } from "../file/open";
import { task, writersTask } from "../threads";
import { cellsThatNameFiles, checkImport } from "./checking/check";
import { commitImport } from "./commit";
import { type Asked, analyse } from "./reading/receive";
import { undoImport } from "./undo";

interface OfPortal {
  readonly portal: string;
  readonly id: string;
}

function opened({ portal }: OfPortal): PortalFile {
  const file = portalFile(portal);
  if (!file) throw new Error(`There is no portal at ${portal} any more.`);
  return file;
}

export const analyseTask = task("analyse an import", ({ id, asked }: { id: string; asked?: Asked }) => analyse(id, asked));
export const checkTask = task(
  "check an import",
  (ask: OfPortal & Pick<Parameters<typeof checkImport>[0], "analysis" | "plan" | "way" | "files">, told) =>
    checkImport({ ...ask, file: opened(ask) }, told),
);
export const namesTask = task(
  "see which files an import names",
  (ask: OfPortal & Pick<Parameters<typeof checkImport>[0], "analysis" | "plan">) => cellsThatNameFiles({ ...ask, file: opened(ask) }),
);
export const commitTask = writersTask("commit an import", (ask: OfPortal & Pick<Parameters<typeof commitImport>[0], "plan">, viewer) => {
  if (viewer.kind !== "owner") throw new Error("An import is the owner's to bring in.");
  return commitImport({ ...ask, file: opened(ask) }, viewer as Owner);
});

export const undoTask = writersTask("take an import back", (ask: OfPortal & { leave: boolean }, viewer) => {
  if (viewer.kind !== "owner") throw new Error("An import is the owner's to take back.");
  return undoImport(opened(ask), viewer as Owner, ask.id, ask.leave);
});

export const IMPORT_TASKS = [analyseTask, namesTask, checkTask, commitTask, undoTask];
