/** The portal's API as its reference shows it: what the document says, operation by operation, with examples. */
import { recordJson } from "@/core/exchange/present";
import type { PortalRequest } from "@/identity/requests/request";
import { openApiOf } from "../openapi";
import { exampleOf, type Schema } from "./example";

interface Media {
  readonly schema?: Schema;
}
interface Parameter {
  readonly name: string;
  readonly in: string;
  readonly required?: boolean;
  readonly description?: string;
  readonly schema?: Schema;
}
interface Operation {
  readonly operationId?: string;
  readonly summary?: string;
  readonly description?: string;
  readonly parameters?: readonly Parameter[];
  readonly requestBody?: { readonly content: Readonly<Record<string, Media>> };
  readonly responses: Readonly<Record<string, { readonly description: string; readonly content?: Readonly<Record<string, Media>> }>>;
}
interface Document {
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components?: { readonly schemas?: Readonly<Record<string, Schema>> };
}

export interface Shown {
  readonly id: string;
  readonly method: string;
  readonly path: string;
  readonly summary: string;
  readonly description: string | null;
  readonly parameters: readonly { readonly name: string; readonly in: string; readonly required: boolean; readonly about: string }[];
  /** JSON of a body, and of the answer where it is JSON. */
  readonly body: string | null;
  readonly answer: string | null;
  readonly answers: readonly { readonly status: string; readonly about: string }[];
}
export interface Group {
  /** The table's slug; "" for calls that concern no table. */
  readonly slug: string;
  readonly name: string | null;
  readonly operations: readonly Shown[];
}

const JSON_TYPE = "application/json";
const json = (value: unknown): string => JSON.stringify(value, null, 2);

/** Only what is open to the reader: the document is theirs. */
export function referenceOf(r: PortalRequest): Group[] {
  const doc = openApiOf(r) as unknown as Document;
  const resolve = (ref: string): Schema | undefined => doc.components?.schemas?.[ref.replace("#/components/schemas/", "")];
  const groups = new Map<string, Shown[]>();
  for (const [path, methods] of Object.entries(doc.paths))
    for (const [method, o] of Object.entries(methods)) {
      const slug = /^\/tables\/([^/]+)/.exec(path)?.[1] ?? "";
      groups.set(slug, [...(groups.get(slug) ?? []), shown(r, slug, method, path, o, (s) => exampleOf(s, resolve))]);
    }
  return [...groups].map(([slug, operations]) => ({ slug, name: tableOf(r, slug)?.name ?? null, operations }));
}

const tableOf = (r: PortalRequest, slug: string) => (slug ? r.published.policy.schema.tableBySlug(slug) : undefined);

function shown(r: PortalRequest, slug: string, method: string, path: string, o: Operation, example: (s: Schema) => unknown): Shown {
  const body = o.requestBody?.content[JSON_TYPE]?.schema;
  const good = Object.entries(o.responses).find(([status]) => status.startsWith("2"));
  const answer = good?.[1].content?.[JSON_TYPE]?.schema;
  const real = answer && method === "get" ? recordOf(r, slug, path) : undefined;
  return {
    id: o.operationId ?? `${method}-${path}`,
    method: method.toUpperCase(),
    path,
    summary: o.summary ?? "",
    description: o.description ?? null,
    parameters: (o.parameters ?? []).map((p) => ({
      name: p.name,
      in: p.in,
      required: p.required === true,
      about: p.description ?? (p.schema as { description?: string } | undefined)?.description ?? "",
    })),
    body: body ? json(example(body)) : null,
    answer: answer ? json(real ?? example(answer)) : null,
    answers: Object.entries(o.responses).map(([status, x]) => ({ status, about: x.description })),
  };
}

/** One of the portal's own that the reader sees: more telling than anything made up. */
function recordOf(r: PortalRequest, slug: string, path: string): unknown {
  const table = tableOf(r, slug);
  if (!table || !/\/records(\/\{id\})?$/.test(path)) return undefined;
  const { records, total } = r.desk.first(table, { limit: 1 });
  const [first] = records.map((x) => recordJson(table, x));
  if (!first) return undefined;
  return path.endsWith("{id}") ? first : { records: [first], total, nextCursor: null };
}
