/** Whether a name is shown to be the agency's: by its text record, or by a file of its site. */
import { FILE_PATH, recordName, recordText } from "@/core/address/domain";
import type { Names } from "./contract";

export interface Looked {
  /** By which it is shown; null where it is not. */
  readonly by: "record" | "file" | null;
  /** Null where no name server answered. */
  readonly texts: readonly string[] | null;
  readonly file: string | null;
}

/** Whether a domain leads here and shows the token, asked of the name server. */
export async function lookAtName(names: Names, host: string, token: string): Promise<Looked> {
  const wanted = recordText(token);
  const [texts, file] = await Promise.all([names.texts(recordName(host)), names.file(host, FILE_PATH)]);
  return { by: texts?.some((t) => t.trim() === wanted) ? "record" : file?.trim() === wanted ? "file" : null, texts, file };
}
