/** What the OpenAPI document says of calls that are about no single table. */
import type { OpenAPIRegistry } from "@asteasolutions/zod-to-openapi";
import { asked, ONCE, ok, problems } from "./openapi-parts";
import {
  companyAnswer,
  credentialsBody,
  exportAnswer,
  fileAnswer,
  invitationBody,
  meAnswer,
  plansAnswer,
  rolesBody,
  sessionAnswer,
  tablesAnswer,
} from "./schemas";

export function registerCommon(registry: OpenAPIRegistry): void {
  registry.registerPath({
    method: "post",
    path: "/session",
    operationId: "signIn",
    summary: "Sign in",
    security: [],
    request: asked(credentialsBody),
    responses: { 200: ok(sessionAnswer, "Signed in; the session is in the cookie."), ...problems(400, 401, 403, 413, 422, 429) },
  });
  registry.registerPath({
    method: "delete",
    path: "/session",
    operationId: "signOut",
    summary: "Sign out",
    responses: { 204: { description: "Signed out." }, ...problems(403) },
  });
  registry.registerPath({
    method: "get",
    path: "/me",
    operationId: "whoAmI",
    summary: "Who is signed in",
    responses: { 200: ok(meAnswer, "The person, and what they act in."), ...problems(401) },
  });
  registry.registerPath({
    method: "get",
    path: "/tables",
    operationId: "listTables",
    summary: "Tables and fields that are open to the viewer",
    responses: { 200: ok(tablesAnswer, "What there is."), ...problems() },
  });
  registry.registerPath({
    method: "get",
    path: "/plans",
    operationId: "listPlans",
    summary: "Plans that are offered, and what the company has",
    responses: { 200: ok(plansAnswer, "What there is."), ...problems() },
  });
  registerCompany(registry);
  registerFiles(registry);
  registerExports(registry);
}

const MEMBERSHIP = { name: "membership", in: "path", required: true, schema: { type: "string" } } as const;

function registerCompany(registry: OpenAPIRegistry): void {
  registry.registerPath({
    method: "get",
    path: "/company",
    operationId: "myCompany",
    summary: "The people of one's company, for those who lead it",
    responses: { 200: ok(companyAnswer, "Its people."), ...problems(401, 404) },
  });
  registry.registerPath({
    method: "post",
    path: "/company/people",
    operationId: "inviteColleague",
    summary: "Invite somebody into one's company",
    parameters: [ONCE],
    request: asked(invitationBody),
    responses: { 204: { description: "Invited." }, ...problems(400, 401, 404, 413, 422) },
  });
  const one = { path: "/company/people/{membership}", parameters: [MEMBERSHIP, ONCE] };
  registry.registerPath({
    ...one,
    method: "patch",
    operationId: "changeColleague",
    summary: "Change what somebody of one's company is",
    request: asked(rolesBody),
    responses: { 204: { description: "Changed." }, ...problems(400, 401, 403, 404, 413, 422) },
  });
  registry.registerPath({
    ...one,
    method: "delete",
    operationId: "takeOutColleague",
    summary: "Take somebody out of one's company",
    responses: { 204: { description: "They are out." }, ...problems(401, 403, 404, 422) },
  });
}

const EXPORT = { name: "export", in: "path", required: true, schema: { type: "string" } } as const;

function registerExports(registry: OpenAPIRegistry): void {
  const one = { path: "/exports/{export}", parameters: [EXPORT] };
  registry.registerPath({
    ...one,
    method: "get",
    operationId: "exportState",
    summary: "How far an export is that is made while nobody waits",
    responses: { 200: ok(exportAnswer, "How far it is."), ...problems(404, 410) },
  });
  registry.registerPath({
    ...one,
    method: "delete",
    operationId: "removeExport",
    summary: "Remove an export",
    responses: { 204: { description: "It is gone." }, ...problems(404, 410) },
  });
  registry.registerPath({
    path: "/exports/{export}/file",
    parameters: [EXPORT],
    method: "get",
    operationId: "exportFile",
    summary: "The file of an export that is done",
    responses: {
      200: { description: "The file.", content: { "*/*": { schema: { type: "string", format: "binary" } } } },
      ...problems(404, 410),
    },
  });
}

function registerFiles(registry: OpenAPIRegistry): void {
  const text = { type: "string" } as const;
  const query = (name: string, description: string, required = true) => ({
    name,
    in: "query" as const,
    required,
    description,
    schema: text,
  });
  registry.registerPath({
    method: "post",
    path: "/files",
    operationId: "sendFile",
    summary: "Send a file for a record",
    description:
      "The file is the body. Put its id into a field of files when the record is added or changed: until then it is yours alone.",
    parameters: [query("table", "The table's slug."), query("field", "The field's slug."), query("name", "What it is called.", false)],
    request: { body: { required: true, content: { "application/octet-stream": { schema: { type: "string", format: "binary" } } } } },
    responses: { 201: ok(fileAnswer, "It is here."), ...problems(400, 404, 411, 422) },
  });
  registry.registerPath({
    method: "get",
    path: "/files/{table}/{record}/{field}/{id}/{name}",
    operationId: "getFile",
    summary: "A file of a record",
    description:
      "The `href` of a file, with `/api/v1` in place of `/-`. Ranges and If-None-Match are answered (RFC 9110 sections 13 and 14).",
    parameters: ["table", "record", "field", "id", "name"].map((name) => ({ name, in: "path" as const, required: true, schema: text })),
    responses: {
      200: { description: "The file.", content: { "*/*": { schema: { type: "string", format: "binary" } } } },
      206: {
        description: "The part that was asked for.",
        content: { "application/octet-stream": { schema: { type: "string", format: "binary" } } },
      },
      304: { description: "It is the same." },
      ...problems(401, 404),
    },
  });
}
