/** How each type of field is edited and shown. */
import type { FieldType } from "@/core/schema/fields";

export interface FieldLook {
  /** A line or an area to write in, or a list to choose from. */
  readonly edit: "line" | "area" | "choose" | "files";
  readonly input?: "date" | "datetime-local" | "email" | "tel" | "url";
  readonly keys?: "decimal";
  /** Choices stand in a frame; long text keeps its lines. */
  readonly show?: "tag" | "lines" | "link" | "files";
}

export const LOOKS: Readonly<Record<FieldType, FieldLook>> = {
  text: { edit: "line" },
  "long-text": { edit: "area", show: "lines" },
  number: { edit: "line", keys: "decimal" },
  money: { edit: "line", keys: "decimal" },
  percent: { edit: "line", keys: "decimal" },
  date: { edit: "line", input: "date" },
  "date-time": { edit: "line", input: "datetime-local" },
  email: { edit: "line", input: "email", show: "link" },
  serial: { edit: "line" },
  "readable-address": { edit: "line" },
  telephone: { edit: "line", input: "tel", show: "link" },
  "web-address": { edit: "line", input: "url", show: "link" },
  "yes-no": { edit: "choose" },
  choice: { edit: "choose", show: "tag" },
  choices: { edit: "choose", show: "tag" },
  files: { edit: "files", show: "files" },
  pictures: { edit: "files", show: "files" },
  relation: { edit: "choose" },
  relations: { edit: "choose" },
};
