/** The OpenAPI 3.1 document, made from the schemas of `schemas.ts` and from what this viewer's grants open. */
import { OpenAPIRegistry, OpenApiGeneratorV31, type ResponseConfig } from "@asteasolutions/zod-to-openapi";
import { z } from "zod";
import { type Field, kindOf, type Table } from "@/core/schema/types";
import { sessionCookie } from "@/identity/requests/cookies";
import type { PortalRequest } from "@/identity/requests/request";
import { changesParams } from "./changes";
import { registerCommon } from "./openapi-common";
import { asked, ETAG, ID, IF_MATCH, ONCE, ok, PREFER, PROBLEM, problems, type Schema } from "./openapi-parts";
import { withOutdated } from "./outdated";
import { listParams } from "./query";
import { type ApiRequest, json } from "./route";
import { bulkAnswer, bulkBody, changesAnswer, exportAnswer, fieldsBody, problem } from "./schemas";

type Asker = Pick<PortalRequest, "desk" | "file" | "base" | "published">;

/** GET the OpenAPI 3.1 document of what is open to the viewer. */
export const getOpenApi = (r: ApiRequest): Response =>
  // RFC 8631 section 4.2: where people read the same.
  json(openApiOf(r), { headers: { link: `<${r.base}/-/reference>; rel="service-doc"` } });

export function openApiOf(r: Asker): object {
  const registry = new OpenAPIRegistry();
  registry.register("Problem", problem);
  registry.registerComponent("securitySchemes", "session", { type: "apiKey", in: "cookie", name: sessionCookie(r.file.id, r.base) });
  registry.registerComponent("securitySchemes", "key", {
    type: "http",
    scheme: "bearer",
    description: "A key of a role or of a person, made in the back office. Answers to it say in RateLimit how many requests are left.",
  });
  registerCommon(registry);
  for (const t of r.desk.schema.tables.filter((t) => r.desk.may(t, "see"))) registerTable(registry, r, t);
  const doc = new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: "3.1.0",
    info: { title: `${r.published.definition.portal.name}: HTTP API`, version: String(r.published.version) },
    servers: [{ url: `${r.base}/api/v1` }],
    // Visitors read what is open to them without a session.
    security: [{}, { session: [] }, { key: [] }],
  });
  return withOutdated(doc);
}

/** "price-book" becomes "PriceBook". */
const camel = (slug: string): string => slug.replaceAll(/(?:^|[^a-z0-9]+)([a-z0-9])/g, (_, c: string) => c.toUpperCase());

function registerTable(registry: OpenAPIRegistry, r: Asker, t: Table): void {
  const { ref } = registry.registerComponent("schemas", t.slug, recordSchema(r.desk.known(t)) as never);
  const record = ref as Schema;
  const name = camel(t.slug);
  const params = z.toJSONSchema(listParams, { io: "input" }).properties as Record<string, object>;
  const listed = Object.entries(params).map(([p, schema]) => ({ name: p, in: "query" as const, required: false, schema }));
  const path = `/tables/${t.slug}/records`;
  const one = `${path}/{id}`;
  const page = {
    type: "object",
    properties: { records: { type: "array", items: ref }, total: { type: "integer" }, nextCursor: { type: ["string", "null"] } },
    required: ["records", "total", "nextCursor"],
    additionalProperties: false,
  } as Schema;
  registry.registerPath({
    method: "get",
    path,
    operationId: `list${name}`,
    summary: `List ${t.name}`,
    parameters: listed,
    responses: { 200: ok(page, "A page of the list."), ...problems(401, 403, 404, 422) },
  });
  registry.registerPath({
    method: "get",
    path: one,
    operationId: `get${name}`,
    summary: `One ${t.singular}`,
    parameters: [ID],
    responses: { 200: ok(record, "The record.", ETAG), ...problems(401, 403, 404) },
  });
  registerWrites(registry, r, t, record);
  registry.registerPath({
    method: "get",
    path: `/tables/${t.slug}/changes`,
    operationId: `changesOf${name}`,
    summary: `What changed in ${t.name}`,
    description:
      "Without `since` it answers where to begin: ask, read the table, and then ask for what changed since. Each record comes once, as it is now.",
    parameters: Object.entries(z.toJSONSchema(changesParams, { io: "input" }).properties as Record<string, object>).map(([p, schema]) => ({
      name: p,
      in: "query" as const,
      required: false,
      schema,
    })),
    responses: { 200: ok(changesAnswer, "What changed."), ...problems(401, 403, 404, 410, 422) },
  });
  if (r.desk.may(t, "export"))
    registry.registerPath({
      method: "get",
      path: `/tables/${t.slug}/export`,
      operationId: `download${name}`,
      summary: `Download ${t.name}`,
      description:
        "With `Prefer: respond-async` it is made while nobody waits: the answer is 202, and Location says where to ask how far it is.",
      parameters: [
        PREFER,
        { name: "format", in: "query", required: false, schema: { enum: ["csv", "json", "xlsx"], default: "csv" } },
        ...listed,
      ],
      responses: {
        200: { description: "The whole list, whatever its limit.", content: fileTypes(ref) },
        202: ok(exportAnswer, "It is being made.", { Location: { schema: { type: "string" } } }),
        ...problems(401, 403, 404, 422, 429),
      },
    });
}

/** What of adding, changing and removing is open to the viewer. */
function registerWrites(registry: OpenAPIRegistry, r: Asker, t: Table, record: Schema): void {
  const name = camel(t.slug);
  const path = `/tables/${t.slug}/records`;
  const one = `${path}/{id}`;
  if (r.desk.may(t, "add"))
    registry.registerPath({
      method: "post",
      path,
      operationId: `add${name}`,
      summary: `Add a ${t.singular}`,
      parameters: [ONCE],
      request: asked(givenSchema(r.desk.settable(t, "add"))),
      responses: {
        201: ok(record, "Added.", { ...ETAG, Location: { schema: { type: "string" } } }),
        ...problems(400, 401, 403, 404, 413, 422),
      },
    });
  if (r.desk.may(t, "change"))
    registry.registerPath({
      method: "patch",
      path: one,
      operationId: `change${name}`,
      summary: `Change a ${t.singular}`,
      parameters: [ID, IF_MATCH, ONCE],
      request: asked(givenSchema(r.desk.settable(t, "change"))),
      responses: { 200: ok(record, "As it is now.", ETAG), ...problems(400, 401, 403, 404, 412, 413, 422) },
    });
  if (r.desk.may(t, "remove"))
    registry.registerPath({
      method: "delete",
      path: one,
      operationId: `remove${name}`,
      summary: `Remove a ${t.singular}`,
      parameters: [ID, IF_MATCH, ONCE],
      responses: { 204: { description: "Removed." }, ...problems(401, 403, 404, 412, 422) },
    });
  if (r.desk.may(t, "add") || r.desk.may(t, "change") || r.desk.may(t, "remove"))
    registry.registerPath({
      method: "post",
      path: `/tables/${t.slug}/bulk`,
      operationId: `write${name}`,
      summary: `Write many ${t.name}`,
      parameters: [ONCE],
      request: asked(bulkBody),
      responses: {
        200: ok(bulkAnswer, "A result for each write, in their order."),
        ...problems(400, 401, 403, 404, 413),
        422: {
          description: "The body is not valid; or, with `all`, one write was refused and none was kept.",
          content: { ...PROBLEM, "application/json": { schema: bulkAnswer } },
        },
      },
    });
}

const fileTypes = (record: object) =>
  ({
    "text/csv; charset=utf-8": { schema: { type: "string" } },
    "application/json": {
      schema: {
        type: "object",
        properties: { records: { type: "array", items: record } },
        required: ["records"],
        additionalProperties: false,
      },
    },
    "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": { schema: { type: "string", format: "binary" } },
  }) as NonNullable<ResponseConfig["content"]>;

const fieldSchemas = (fields: readonly Field[], of: (f: Field) => object) => ({
  type: "object",
  properties: Object.fromEntries(fields.map((f) => [f.slug, of(f)])),
  additionalProperties: false,
});

function recordSchema(known: readonly Field[]): object {
  const fields = { ...fieldSchemas(known, (f) => kindOf(f).jsonSchema(f)), description: "A field that is hidden on a record is absent." };
  return { type: "object", properties: { id: { type: "string" }, fields }, required: ["id", "fields"], additionalProperties: false };
}

/** Within the shape that every body has, the fields that the viewer may set. */
function givenSchema(settable: readonly Field[]): Schema {
  const shape = z.toJSONSchema(fieldsBody, { io: "input" }) as { properties: object; $schema?: unknown };
  const { $schema: _, ...body } = shape;
  return { ...body, properties: { fields: fieldSchemas(settable, (f) => kindOf(f).jsonInput?.(f) ?? kindOf(f).jsonSchema(f)) } } as Schema;
}
