/** Where the files of an import stand while it is under way. */
import { join } from "node:path";
import { dataFolder } from "../../file/open";

const ID = /^[0-9a-f-]{36}$/;

/** The folder for what imports hold between their steps. */
export const importFolder = (): string => join(dataFolder(), "imports");

/** `stage` holds the rows that were checked; `met` what a reading of another system met; `zip` the files beside the table; the others are the upload, and the CSV that it was made into. */
export const importPath = (id: string, ending: "csv" | "xlsx" | "jsonl" | "stage" | "zip" | "zip-part" | "zip-file" | "met"): string => {
  if (!ID.test(id)) throw new Error(`${id} is not an import's id.`);
  return join(importFolder(), `${id}.${ending}`);
};
