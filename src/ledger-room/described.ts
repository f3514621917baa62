/** The Ledger Room's API as OpenAPI 3.1 describes it. */
import { KINDS } from "./store";

const text = { type: "string" } as const;
const problem = { description: "Why not (RFC 9457)", content: { "application/problem+json": { schema: { type: "object" } } } };
const json = (schema: object): object => ({ "application/json": { schema } });

/** Each kind's records. */
const schemas = (): object =>
  Object.fromEntries(
    Object.entries(KINDS).map(([kind, columns]) => [
      kind,
      {
        type: "object",
        required: ["id"],
        properties: {
          id: text,
          ...Object.fromEntries(columns.map((c) => [c, text])),
          version: { type: "integer" },
          changed_at: { type: "string", format: "date-time" },
          removed: { type: "boolean", description: "Only among changes: the record is gone." },
        },
      },
    ]),
  );

/** The two addresses of a kind. */
function pathsOf(kind: string): [string, object][] {
  const record = { $ref: `#/components/schemas/${kind}` };
  const id = { name: "id", in: "path", required: true, schema: text };
  const answers = { "401": problem, "422": problem, "429": problem };
  const page = {
    type: "object",
    required: ["items", "after", "mark", "total"],
    properties: {
      items: { type: "array", items: record },
      after: { type: ["string", "null"], description: "Where the next page begins; null after the last." },
      mark: { type: "string", description: "Give it as `since` next time." },
      total: { type: "integer", description: "Records of all pages together." },
    },
  };
  const query = [
    { name: "since", in: "query", schema: text, description: "Only what changed after this mark, removed records too." },
    { name: "where", in: "query", schema: text, description: "Only records whose column of this name holds one of `is`." },
    { name: "is", in: "query", schema: { type: "array", items: text } },
    { name: "after", in: "query", schema: text },
    { name: "limit", in: "query", schema: { type: "integer", minimum: 1, maximum: 500, default: 200 } },
  ];
  const once = { name: "Idempotency-Key", in: "header", required: true, schema: text };
  const match = { name: "If-Match", in: "header", schema: text, description: "The version that is changed, as its ETag." };
  const body = { required: true, content: json(record) };
  return [
    [
      `/v1/${kind}`,
      {
        get: {
          summary: `List ${kind}`,
          parameters: query,
          responses: { "200": { description: "A page", content: json(page) }, ...answers },
        },
        post: {
          summary: `Add to ${kind}`,
          parameters: [once],
          requestBody: body,
          responses: { "201": { description: "Made", content: json(record) }, ...answers },
        },
      },
    ],
    [
      `/v1/${kind}/{id}`,
      {
        parameters: [id],
        get: {
          summary: "Read one",
          responses: { "200": { description: "The record", content: json(record) }, "404": problem, ...answers },
        },
        patch: {
          summary: "Change one",
          parameters: [match],
          requestBody: body,
          responses: {
            "200": { description: "Changed", content: json(record) },
            "412": { description: "It has another version: the record as it is", content: json(record) },
            ...answers,
          },
        },
        delete: { summary: "Remove one", responses: { "204": { description: "Removed" }, "404": problem, ...answers } },
      },
    ],
  ];
}

export function described(origin: string): object {
  return {
    openapi: "3.1.0",
    info: { title: "The Ledger Room", version: "1", description: "A simulated records system. All values are text." },
    servers: [{ url: origin }],
    security: [{ key: [] }],
    paths: Object.fromEntries(Object.keys(KINDS).flatMap(pathsOf)),
    components: { schemas: schemas(), securitySchemes: { key: { type: "http", scheme: "bearer" } } },
  };
}
