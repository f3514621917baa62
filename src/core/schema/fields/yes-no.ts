import { err, ok, type Result } from "../../result";
import { shortened } from "../../text/shortened";
import { type FieldKind, type Having, sole } from "./kind";

/** Yes or no as people write it: yes, y, true, 1, x and their opposites. */
export function readYesNo(text: string): Result<boolean, string> {
  const t = text.trim().toLowerCase();
  if (["yes", "y", "true", "1", "on"].includes(t)) return ok(true);
  if (["no", "n", "false", "0", "off"].includes(t)) return ok(false);
  return err(`“${shortened(text)}” is neither yes nor no.`);
}

export const yesNo: FieldKind<Having> = {
  name: "Yes or no",
  operators: ["is"],
  many: null,
  sortable: true,
  numeric: false,
  folds: false,
  literal: "boolean",
  groupable: false,
  importable: true,
  options: () => ({}),
  parse: (texts) => (sole(texts).trim() === "" ? ok(null) : readYesNo(sole(texts))),
  texts: (v) => [v ? "yes" : "no"],
  fromJson: (v) => (typeof v === "boolean" ? ok(v) : err("This must be true or false.")),
  toJson: (v) => v,
  jsonSchema: () => ({ type: ["boolean", "null"] }),
  words: (v) => (v ? "Yes" : "No"),
  cell: (v) => v as boolean,
  literalWords: (v) => (v ? "yes" : "no"),
  offers: () => [
    { value: "yes", label: "Yes" },
    { value: "no", label: "No" },
  ],
};
