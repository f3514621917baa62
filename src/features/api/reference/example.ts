/** An example that a JSON Schema (2020-12) allows: what a reader of the reference copies and changes. */

export interface Schema {
  readonly type?: string | readonly string[];
  readonly format?: string;
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly default?: unknown;
  readonly pattern?: string;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly required?: readonly string[];
  readonly items?: Schema;
  readonly minItems?: number;
  readonly minimum?: number;
  readonly minLength?: number;
  readonly oneOf?: readonly Schema[];
  readonly anyOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly $ref?: string;
}

/** "#/components/schemas/signs" in a document. */
export type Resolve = (ref: string) => Schema | undefined;

const DEEPEST = 8;
const TEXTS: Readonly<Record<string, string>> = {
  date: "2026-03-02",
  "date-time": "2026-03-02T09:30:00Z",
  time: "09:30:00",
  email: "dana@client.example",
  uri: "https://client.example/",
  uuid: "01890a5d-ac96-774b-bcce-b302099a8057",
};

/** Undefined where nothing can stand there. */
export function exampleOf(s: Schema, resolve: Resolve, depth = 0): unknown {
  if (depth > DEEPEST) return null;
  const deeper = (x: Schema): unknown => exampleOf(x, resolve, depth + 1);
  if (s.$ref) {
    const there = resolve(s.$ref);
    return there && deeper(there);
  }
  if (s.const !== undefined) return s.const;
  if (s.default !== undefined) return s.default;
  if (s.enum) return s.enum.find((x) => x !== null) ?? null;
  const choice = (s.oneOf ?? s.anyOf)?.find((x) => x.type !== "null");
  if (choice) return deeper(choice);
  if (s.allOf) return Object.assign({}, ...s.allOf.map((x) => deeper(x) as object));
  const type = Array.isArray(s.type) ? s.type.find((t) => t !== "null") : s.type;
  switch (type) {
    case "object":
      return Object.fromEntries(Object.entries(s.properties ?? {}).map(([name, p]) => [name, deeper(p)]));
    case "array":
      return s.items ? [deeper(s.items)] : [];
    case "integer":
    case "number":
      return Math.max(s.minimum ?? 1, 1);
    case "boolean":
      return true;
    case "string":
      return textOf(s);
    default:
      return null;
  }
}

function textOf(s: Schema): string {
  const known = s.format === undefined ? undefined : TEXTS[s.format];
  if (known) return known;
  // A pattern that is not of plain words cannot be guessed; a number as text is the common one.
  if (s.pattern && !new RegExp(s.pattern, "u").test("text")) return new RegExp(s.pattern, "u").test("12.50") ? "12.50" : "";
  return "text".padEnd(s.minLength ?? 0, "t");
}
