/** A record of another table, or several. What comes in is ids; whoever knows the records looks names up and says whose they are. */

import { err, ok } from "../../result";
import { OF_MANY, OF_ONE } from "../operators";
import { isLink, isLinks, linkWords, type SeenValue } from "../seen";
import { type FieldKind, type Having, sole } from "./kind";

type Options = Having<"target">;

const idOf = (v: unknown): string | undefined => {
  if (typeof v === "string") return v;
  const id = typeof v === "object" && v !== null ? (v as { id?: unknown }).id : undefined;
  return typeof id === "string" ? id : undefined;
};
const idsIn = (v: SeenValue): string[] => (isLinks(v) ? v : isLink(v) ? [v] : []).flatMap((l) => ("id" in l ? [l.id] : []));

const LINK = {
  oneOf: [
    {
      type: "object",
      properties: { id: { type: "string" }, label: { type: "string" } },
      required: ["id", "label"],
      additionalProperties: false,
    },
    { type: "object", properties: { withheld: { const: true } }, required: ["withheld"], additionalProperties: false },
  ],
};
const GIVEN = { anyOf: [{ type: "string" }, { type: "object", properties: { id: { type: "string" } }, required: ["id"] }] };

const shared = {
  numeric: false,
  folds: false,
  literal: "string",
  options: (given: { target?: string }): Options => {
    if (!given.target) throw new Error("A relation needs the id of the table it points to: options.target.");
    return { target: given.target };
  },
  texts: idsIn,
  toJson: (v: SeenValue) => v,
  literalWords: () => "another record",
} as const;

export const relation: FieldKind<Options> = {
  ...shared,
  name: "Relation",
  operators: OF_ONE,
  many: null,
  sortable: true,
  groupable: true,
  importable: true,
  parse: (texts) => ok(sole(texts).trim() || null),
  fromJson: (v) => {
    const id = idOf(v);
    return id === undefined ? err("This must be a record's id, or an object with an id.") : ok(id || null);
  },
  jsonSchema: () => ({ anyOf: [LINK, { type: "null" }] }),
  jsonInput: () => ({ anyOf: [...GIVEN.anyOf, { type: "null" }] }),
  words: (v) => (isLink(v) ? linkWords(v) : String(v)),
  cell: (v) => (isLink(v) ? linkWords(v) : String(v)),
};

export const relations: FieldKind<Options> = {
  ...shared,
  name: "Several relations",
  operators: OF_MANY,
  many: "relation",
  sortable: false,
  groupable: false,
  importable: true,
  parse: (texts) => ok([...new Set(texts.flatMap((t) => t.split(/[,;]/)).map((t) => t.trim()))].filter(Boolean)),
  fromJson: (v) => {
    if (!Array.isArray(v) || v.length > 500) return err("This must be a list of at most 500.");
    const ids = v.map(idOf);
    return ids.some((x) => x === undefined) ? err("Each item must be text, or an object with an id.") : ok([...new Set(ids as string[])]);
  },
  jsonSchema: () => ({ type: "array", items: LINK }),
  jsonInput: () => ({ type: ["array", "null"], items: GIVEN, maxItems: 500 }),
  words: (v) => (isLinks(v) ? v.map(linkWords).join(", ") : ""),
  cell: (v) => (isLinks(v) ? v.map(linkWords).join("; ") : ""),
};
