/** The OpenAPI 3.1 document, made from the schemas that the handlers parse with and from what this viewer's grants open. */

import { z } from "zod";
import { kindOf } from "@/core/schema/types";
import { credentialsBody, fieldsBody } from "./handlers";
import { listParams } from "./query";
import { type ApiRequest, json } from "./route";

const problem = {
  description: "A problem (RFC 9457).",
  content: { "application/problem+json": { schema: { $ref: "#/components/schemas/Problem" } } },
};
const ok = (schema: object, description = "Done."): object => ({
  "200": { description, content: { "application/json": { schema } } },
  default: problem,
});
const body = (schema: z.ZodType): object => ({ required: true, content: { "application/json": { schema: z.toJSONSchema(schema) } } });

export function getOpenApi(r: ApiRequest): Response {
  const { policy, definition } = r.published;
  const open = policy.schema.tables.filter((t) => r.desk.may(t, "see"));
  const params = z.toJSONSchema(listParams, { io: "input" }).properties as Record<string, object>;
  const listParameters = Object.entries(params).map(([name, schema]) => ({ name, in: "query", required: false, schema }));
  const paths: Record<string, object> = {
    "/session": {
      post: {
        summary: "Sign in",
        requestBody: body(credentialsBody),
        responses: ok({ type: "object" }, "Signed in; the session is in the cookie."),
      },
      delete: { summary: "Sign out", responses: { "204": { description: "Signed out." } } },
    },
    "/me": { get: { summary: "Who is signed in", responses: ok({ type: "object" }) } },
    "/tables": { get: { summary: "Tables and fields that are open to the viewer", responses: ok({ type: "object" }) } },
  };
  const schemas: Record<string, object> = {
    Problem: {
      type: "object",
      properties: {
        type: { type: "string" },
        title: { type: "string" },
        status: { type: "integer" },
        detail: { type: "string" },
        errors: { type: "array", items: { type: "object", properties: { field: { type: "string" }, message: { type: "string" } } } },
      },
      required: ["type", "detail"],
    },
  };
  for (const t of open) {
    const fields = Object.fromEntries(r.desk.known(t).map((f) => [f.slug, kindOf(f).jsonSchema(f)]));
    const record = { $ref: `#/components/schemas/${t.slug}` };
    const ifMatch = { name: "If-Match", in: "header", schema: { type: "string" } };
    const id = { name: "id", in: "path", required: true, schema: { type: "string" } };
    schemas[t.slug] = {
      type: "object",
      properties: {
        id: { type: "string" },
        fields: { type: "object", properties: fields, description: "A field that is hidden on a record is absent." },
      },
      required: ["id", "fields"],
    };
    paths[`/tables/${t.slug}/records`] = {
      get: {
        summary: `List ${t.name}`,
        parameters: listParameters,
        responses: ok({
          type: "object",
          properties: { records: { type: "array", items: record }, total: { type: "integer" }, nextCursor: { type: ["string", "null"] } },
        }),
      },
      post: {
        summary: `Add a ${t.singular}`,
        requestBody: body(fieldsBody),
        responses: { "201": { description: "Added." }, default: problem },
      },
    };
    paths[`/tables/${t.slug}/records/{id}`] = {
      parameters: [id],
      get: { summary: `One ${t.singular}`, responses: ok(record) },
      patch: {
        summary: `Change a ${t.singular}`,
        parameters: [ifMatch],
        requestBody: body(fieldsBody),
        responses: ok(record),
      },
      delete: {
        summary: `Remove a ${t.singular}`,
        parameters: [ifMatch],
        responses: { "204": { description: "Removed." }, default: problem },
      },
    };
    paths[`/tables/${t.slug}/export`] = {
      get: {
        summary: `Download ${t.name}`,
        parameters: [{ name: "format", in: "query", schema: { enum: ["csv", "json", "xlsx"] } }, ...listParameters],
        responses: { "200": { description: "The file." }, default: problem },
      },
    };
  }
  return json({
    openapi: "3.1.0",
    info: { title: `${definition.portal.name}: HTTP API`, version: String(r.published.version) },
    servers: [{ url: `${r.base}/api/v1` }],
    paths,
    components: { schemas },
  });
}
