/** What calls of the API have in common in its OpenAPI document: problems, headers, and how bodies are told. */
import type { ResponseConfig, RouteConfig, ZodMediaTypeObject } from "@asteasolutions/zod-to-openapi";
import { problem } from "./schemas";

export type Schema = ZodMediaTypeObject["schema"];
type Answers = RouteConfig["responses"];

const MEANING = {
  400: "The request cannot be read.",
  401: "Nobody is signed in, a new password must be chosen first, or the key opens nothing.",
  403: "The viewer's roles or their company's plan do not allow it.",
  404: "There is no such thing, or it is not the viewer's to see.",
  410: "What came after the cursor cannot be told any more.",
  411: "Content-Length is needed.",
  412: "The record is no longer as If-Match says.",
  413: "The body is too large.",
  422: "Something given is not valid; each field is named.",
  429: "Too many tries; Retry-After says how long to wait.",
} as const;
export const PROBLEM = { "application/problem+json": { schema: problem } };

export const problems = (...statuses: (keyof typeof MEANING)[]): Answers => ({
  ...Object.fromEntries(statuses.map((s) => [s, { description: MEANING[s], content: PROBLEM }])),
  default: { description: "A problem (RFC 9457).", content: PROBLEM },
});
export const ok = (schema: Schema, description: string, headers?: object): ResponseConfig =>
  ({ description, content: { "application/json": { schema } }, ...(headers ? { headers } : {}) }) as ResponseConfig;
export const asked = (schema: Schema) => ({ body: { required: true, content: { "application/json": { schema } } } });

export const ETAG = {
  ETag: { description: "A strong validator of what the viewer sees of the record (RFC 9110 section 8.8.3).", schema: { type: "string" } },
};
export const PREFER = {
  name: "Prefer",
  in: "header",
  required: false,
  description: "respond-async (RFC 7240 section 4.1).",
  schema: { type: "string" },
} as const;
export const ID = { name: "id", in: "path", required: true, schema: { type: "string" } } as const;
export const ONCE = {
  name: "Idempotency-Key",
  in: "header",
  required: false,
  description: "Of your own making: the same request sent again with it within a day is answered as before, and not done again.",
  schema: { type: "string", maxLength: 255 },
} as const;
export const IF_MATCH = {
  name: "If-Match",
  in: "header",
  required: false,
  description: "Validators of which one must be the record's (RFC 9110 section 13.1.1), or *.",
  schema: { type: "string" },
} as const;
