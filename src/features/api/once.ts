/**
 * Writes that a program may send again without doing them twice: with an Idempotency-Key, a write and its answer are kept in one transaction
 * for a day (draft-ietf-httpapi-idempotency-key-header-07, from memory). What was refused is not kept: nothing was done.
 */
import { createHash } from "node:crypto";
import { transact } from "@/data/file/transact";
import { keepAnswer, keptAnswer } from "@/data/records/kept-answers";
import { invalid, Problem } from "./problem";
import { type ApiRequest, json } from "./route";

export interface WriteAnswer {
  readonly status: number;
  /** JSON; null for none. */
  readonly body: unknown;
  readonly headers: Readonly<Record<string, string>>;
}

const hash = (...parts: string[]): string => createHash("sha256").update(JSON.stringify(parts)).digest("base64url");

/** `read` takes the body apart, before anything is done; `work` does it all at once. */
export const apiWrite =
  <T>(read: (r: ApiRequest) => Promise<T>, work: (r: ApiRequest, given: T) => WriteAnswer) =>
  async (r: ApiRequest): Promise<Response> => {
    const key = keyOf(r);
    const given = await read(r);
    if (key === null) return responseOf(work(r, given));
    const name = hash(whoOf(r), key);
    const asked = hash(r.request.method, new URL(r.request.url).pathname, r.request.headers.get("if-match") ?? "", JSON.stringify(given));
    return transact(r.file, () => {
      const kept = keptAnswer(r.file, name, r.viewer.now);
      if (kept && kept.asked !== asked)
        throw new Problem("used-before", "This Idempotency-Key came with another request before. Take a new one.");
      if (kept) return responseOf({ ...(JSON.parse(kept.answer) as WriteAnswer) }, { "idempotency-replayed": "true" });
      const answer = work(r, given);
      keepAnswer(r.file, name, asked, JSON.stringify(answer), r.viewer.now);
      return responseOf(answer);
    });
  };

const responseOf = ({ status, body, headers }: WriteAnswer, more: Record<string, string> = {}): Response =>
  body === null
    ? new Response(null, { status, headers: { ...headers, ...more } })
    : json(body, { status, headers: { ...headers, ...more } });

/** Nobody meets the keys of another: not of another key of the same role either. */
export const whoOf = ({ viewer }: ApiRequest): string =>
  JSON.stringify([viewer.kind, viewer.person?.id, viewer.membershipId, viewer.key?.id]);

function keyOf(r: ApiRequest): string | null {
  const given = r.request.headers.get("idempotency-key");
  if (given === null) return null;
  if (!/^[\x21-\x7e]{1,255}$/.test(given)) throw invalid("An Idempotency-Key is 1 to 255 letters, digits and signs.", undefined, 400);
  return given;
}
