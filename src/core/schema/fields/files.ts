/** Files, and pictures among them. A row holds their ids; what they are stands beside, and their contents elsewhere. */

import { err, ok } from "../../result";
import type { Operator } from "../operators";
import { type FileRef, isFiles, type SeenValue } from "../seen";
import type { FieldKind, Having } from "./kind";

export const MOST_FILES = 50;

const OPERATORS: readonly Operator[] = ["is-empty", "is-not-empty"];
const ID = /^[0-9a-f-]{36}$/;

const refs = (v: SeenValue): readonly FileRef[] => (isFiles(v) ? v : []);

const REF = {
  type: "object",
  properties: {
    id: { type: "string" },
    name: { type: "string" },
    type: { type: "string", description: "Media type, told by the content." },
    bytes: { type: "integer" },
    href: { type: ["string", "null"], description: "Where its content is had; null where only its name may be known." },
  },
  required: ["id", "name", "type", "bytes", "href"],
  additionalProperties: false,
};

const of = (name: string, many: "files" | "pictures"): FieldKind<Having> => ({
  name,
  operators: OPERATORS,
  many,
  sortable: false,
  numeric: false,
  folds: false,
  literal: "string",
  // By their names, which their field shows to whoever sees it.
  search: (words) => ({ operator: "contains", value: words }),
  groupable: false,
  importable: true,
  options: () => ({}),
  parse: (texts) => {
    const ids = [...new Set(texts.map((t) => t.trim()).filter(Boolean))];
    if (ids.length > MOST_FILES) return err(`A field holds ${MOST_FILES} files at the most.`);
    return ids.every((id) => ID.test(id)) ? ok(ids) : err("These are no files. Choose them again.");
  },
  texts: (v) => (isFiles(v) ? v.map((r) => r.id) : Array.isArray(v) ? (v as string[]) : []),
  fromJson: (v) => {
    if (!Array.isArray(v) || v.length > MOST_FILES) return err(`This must be a list of at most ${MOST_FILES} ids of files.`);
    const ids = v.map((x: unknown) => (typeof x === "string" ? x : (x as { id?: unknown } | null)?.id));
    return ids.every((x): x is string => typeof x === "string" && ID.test(x))
      ? ok([...new Set(ids)])
      : err("Each item must be a file's id.");
  },
  toJson: (v) => refs(v).map((r) => ({ id: r.id, name: r.name, type: r.type, bytes: r.bytes, href: r.at })),
  jsonSchema: () => ({ type: "array", items: REF }),
  jsonInput: () => ({
    type: ["array", "null"],
    items: { anyOf: [{ type: "string" }, { type: "object", properties: { id: { type: "string" } }, required: ["id"] }] },
    maxItems: MOST_FILES,
  }),
  words: (v) =>
    refs(v)
      .map((r) => r.name)
      .join(", "),
  cell: (v) =>
    refs(v)
      .map((r) => r.name)
      .join("; "),
  literalWords: () => "a file",
});

export const files = of("Files", "files");
export const pictures = of("Pictures", "pictures");
