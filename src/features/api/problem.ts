/** Errors of the HTTP API: application/problem+json (RFC 9457). `type` is for programs, `detail` for people. */
import type { z } from "zod";

export type ProblemType =
  | "not-signed-in"
  | "password-needed"
  | "not-allowed"
  | "plan-needed"
  | "not-found"
  | "invalid"
  | "key-in-address"
  | "too-many"
  | "stale"
  | "busy"
  | "gone"
  | "used-before"
  | "no-method"
  | "length-needed";

const STATUS: Record<ProblemType, [number, string]> = {
  "not-signed-in": [401, "Not signed in"],
  "password-needed": [401, "A new password is needed"],
  "no-method": [405, "No such method here"],
  "key-in-address": [400, "A key in an address"],
  "not-allowed": [403, "Not allowed"],
  "plan-needed": [403, "Not part of the plan"],
  gone: [410, "Gone"],
  "used-before": [422, "Used before"],
  "not-found": [404, "Not found"],
  invalid: [422, "Invalid"],
  "too-many": [429, "Too many tries"],
  "length-needed": [411, "A length is needed"],
  busy: [503, "Busy"],
  stale: [412, "Changed by somebody else"],
};

export interface FieldProblem {
  readonly field: string;
  readonly message: string;
}

export class Problem extends Error {
  constructor(
    readonly type: ProblemType,
    readonly detail: string,
    readonly errors?: readonly FieldProblem[],
    readonly headers: Record<string, string> = {},
    readonly status?: number,
    /** Further members (RFC 9457 section 3.2). */
    readonly more: Readonly<Record<string, string>> = {},
  ) {
    super(detail);
  }
  get statusCode(): number {
    return this.status ?? STATUS[this.type][0];
  }
  response(): Response {
    const [, title] = STATUS[this.type];
    const body = {
      type: this.type,
      title,
      status: this.statusCode,
      detail: this.detail,
      ...this.more,
      ...(this.errors ? { errors: this.errors } : {}),
    };
    return new Response(JSON.stringify(body), {
      status: body.status,
      headers: { "content-type": "application/problem+json", "cache-control": "private, no-store", ...this.headers },
    });
  }
}

export const notFound = (): Problem => new Problem("not-found", "There is no such thing here, or it is not yours to see.");
export const invalid = (detail: string, errors?: readonly FieldProblem[], status?: number): Problem =>
  new Problem("invalid", detail, errors, {}, status);

/** What is wrong with a body, by the path of each part. */
export const issues = (e: z.ZodError): FieldProblem[] => e.issues.map((i) => ({ field: i.path.join("."), message: i.message }));
