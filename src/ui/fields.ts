/** How each type of field is edited and shown. */
import type { FieldType } from "@/core/schema/fields";

export interface FieldLook {
  /** A line or an area to write in, or a list to choose from. */
  readonly edit: "line" | "area" | "choose";
  readonly input?: "date";
  readonly keys?: "decimal";
  /** Choices stand in a frame; long text keeps its lines. */
  readonly show?: "tag" | "lines";
}

export const LOOKS: Readonly<Record<FieldType, FieldLook>> = {
  text: { edit: "line" },
  "long-text": { edit: "area", show: "lines" },
  number: { edit: "line", keys: "decimal" },
  money: { edit: "line", keys: "decimal" },
  percent: { edit: "line", keys: "decimal" },
  date: { edit: "line", input: "date" },
  "yes-no": { edit: "choose" },
  choice: { edit: "choose", show: "tag" },
  choices: { edit: "choose", show: "tag" },
  relation: { edit: "choose" },
  relations: { edit: "choose" },
};
