/**
 * What an ID token must be before anybody comes in by it (OpenID Connect Core 1.0 section 3.1.3.7; RFC 7515; RFC 8725 section 3.1). The
 * provider is written here, so that it can lie about one thing at a time; its keys are made anew for each run.
 */
import { createHmac, createSign, generateKeyPairSync, type KeyObject } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { testPortal } from "@/testing/portal";
import { beginOidc, endOidc } from "./oidc";
import { addProvider, providerById } from "./providers";

const ISSUER = "http://localhost:9";
const CLIENT = "elkhorn";
const SECRET = "s3cret-of-the-client";
const BACK = "http://portal.localhost:3999/-/outside/x/back";
const MINE = generateKeyPairSync("rsa", { modulusLength: 2048 });
const OTHER = generateKeyPairSync("rsa", { modulusLength: 2048 });

const part = (value: unknown): string => Buffer.from(JSON.stringify(value)).toString("base64url");
function signed(claims: object, key: KeyObject = MINE.privateKey): string {
  const body = `${part({ alg: "RS256", kid: "k1", typ: "JWT" })}.${part(claims)}`;
  return `${body}.${createSign("RSA-SHA256").update(body).sign(key, "base64url")}`;
}
/** The signature stays that of what was signed first. */
function changed(token: string, claims: object): string {
  const [head, , signature] = token.split(".");
  return `${head}.${part(claims)}.${signature}`;
}
function byTheSecret(claims: object): string {
  const body = `${part({ alg: "HS256", kid: "k1", typ: "JWT" })}.${part(claims)}`;
  return `${body}.${createHmac("sha256", SECRET).update(body).digest("base64url")}`;
}

const metadata = (more: object = {}) => ({
  issuer: ISSUER,
  authorization_endpoint: `${ISSUER}/auth`,
  token_endpoint: `${ISSUER}/token`,
  jwks_uri: `${ISSUER}/keys`,
  response_types_supported: ["code"],
  id_token_signing_alg_values_supported: ["RS256"],
  ...more,
});
/** Answers as a provider does: `told` is its metadata, `token` what it gives for a code. */
const provider =
  (token: () => string | undefined, told: object = metadata()) =>
  async (url: string): Promise<Response> => {
    const path = new URL(url).pathname;
    if (path.includes("well-known")) return Response.json(told);
    if (path === "/keys")
      return Response.json({ keys: [{ ...MINE.publicKey.export({ format: "jwk" }), kid: "k1", alg: "RS256", use: "sig" }] });
    return Response.json({ access_token: "a", token_type: "Bearer", id_token: token() });
  };

function world() {
  const p = testPortal({ grants: [] });
  const made = addProvider(p.file, p.owner, {
    kind: "oidc",
    name: "Org",
    domains: ["t.example"],
    issuer: ISSUER,
    client: CLIENT,
    secret: SECRET,
  });
  if (!made.ok) throw new Error(made.error.message);
  return { file: p.file, provider: providerById(p.file, made.value.id)! };
}

/** One sign-in, whole, with the token that is made of what an honest provider would say. */
async function signIn(token: (honest: Record<string, unknown>) => string | undefined) {
  const { file, provider: mine } = world();
  const now = Date.now();
  let nonce = "";
  const seconds = Math.floor(now / 1000);
  const fetch = provider(() =>
    token({ iss: ISSUER, aud: CLIENT, sub: "u1", nonce, iat: seconds, exp: seconds + 300, email: "dana@t.example", email_verified: true }),
  );
  const begun = await beginOidc(file, mine, { back: BACK, to: "/signs", browser: "b" }, now, fetch);
  if (!begun.ok) return begun;
  nonce = begun.value.searchParams.get("nonce")!;
  return endOidc(file, mine, new URL(`${BACK}?code=c&state=${begun.value.searchParams.get("state")}`), "b", now, fetch);
}

beforeAll(() => {
  process.env.ELKHORN_INSIDE = "localhost";
});
afterAll(() => {
  delete process.env.ELKHORN_INSIDE;
});

describe("an ID token", () => {
  it("that the issuer signed for us, now, as an answer to what we asked, is taken", async () =>
    expect(await signIn((c) => signed(c))).toEqual({
      ok: true,
      value: { claimed: { subject: "u1", email: "dana@t.example", verified: true }, to: "/signs" },
    }));

  const minute = 60;
  it.each<[string, (c: Record<string, unknown>) => string | undefined]>([
    ["signed by a key that the issuer does not have", (c) => signed(c, OTHER.privateKey)],
    ["changed after it was signed", (c) => changed(signed(c), { ...c, sub: "u2" })],
    ["not signed at all", (c) => `${part({ alg: "none" })}.${part(c)}.`],
    ["signed with the secret that we share, instead of a key", byTheSecret],
    ["of another issuer", (c) => signed({ ...c, iss: "http://localhost:10" })],
    ["for another client", (c) => signed({ ...c, aud: "another" })],
    ["that answers another request", (c) => signed({ ...c, nonce: "another" })],
    ["that answers no request", ({ nonce: _, ...c }) => signed(c)],
    ["over", (c) => signed({ ...c, exp: Number(c.iat) - 10 * minute, iat: Number(c.iat) - 20 * minute })],
    ["made later than now", (c) => signed({ ...c, iat: Number(c.iat) + 5 * minute, exp: Number(c.iat) + 10 * minute })],
    ["of nobody", ({ sub: _, ...c }) => signed(c)],
    ["that is missing", () => undefined],
  ])("%s lets nobody in", async (_, token) => expect(await signIn(token)).toEqual({ ok: false, error: "refused" }));
});

it("metadata that name another issuer lead nowhere", async () => {
  const { file, provider: mine } = world();
  const fetch = provider(() => undefined, metadata({ issuer: "http://localhost:10" }));
  expect(await beginOidc(file, mine, { back: BACK, to: "/", browser: "b" }, Date.now(), fetch)).toEqual({ ok: false, error: "away" });
});
