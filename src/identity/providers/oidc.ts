/** OpenID Connect (Core 1.0), code flow with PKCE (RFC 7636), state and nonce: `openid-client` does it, this says what is kept. */
import * as oidc from "openid-client";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import { once } from "@/data/file/per-process";
import { beginFlow, takeFlow } from "../secrets/flows";
import { tokenHash } from "../secrets/secrets";
import { type Claimed, type Provider, secretOf } from "./providers";

/** Seconds: one that hangs is given up, and keeps nobody else waiting. */
const PATIENCE = 8;
/** Seconds that two clocks may be apart. */
const SKEW = 30;
const KNOWN_FOR = 10 * 60_000;

const known = once("oidc providers", () => new Map<string, { at: number; config: oidc.Configuration }>());

/** How a provider is reached: what an owner typed leads to nothing inside (services/outside). */
export type Fetch = (url: string, init: RequestInit) => Promise<Response>;

async function configOf(file: PortalFile, p: Provider, now: number, fetch: Fetch): Promise<oidc.Configuration> {
  const { issuer = "", client = "" } = p.settings;
  const key = `${file.id} ${p.id}`;
  const had = known.get(key);
  if (had && now - had.at < KNOWN_FOR) return had.config;
  const url = new URL(issuer);
  const plain = url.protocol === "http:" ? [oidc.allowInsecureRequests] : []; // loopback alone: see `addProvider`
  const config = await oidc.discovery(url, client, secretOf(file, p.id), undefined, {
    // ID tokens are checked against the provider's keys, whatever brought them here (OpenID Connect Core 1.0 section 3.1.3.7, item 6).
    execute: [...plain, oidc.enableNonRepudiationChecks],
    timeout: PATIENCE,
    [oidc.customFetch]: fetch as oidc.CustomFetch,
  });
  known.set(key, { at: now, config });
  return config;
}

interface Under {
  readonly provider: string;
  readonly verifier: string;
  readonly nonce: string;
  readonly to: string;
  /** Hash of what the browser that began it holds. */
  readonly browser: string;
}

/** Where the browser goes. */
export async function beginOidc(
  file: PortalFile,
  p: Provider,
  asked: { readonly back: string; readonly to: string; readonly browser: string },
  now: number,
  fetch: Fetch,
): Promise<Result<URL, "away" | "busy">> {
  try {
    const config = await configOf(file, p, now, fetch);
    const [verifier, state, nonce] = [oidc.randomPKCECodeVerifier(), oidc.randomState(), oidc.randomNonce()];
    const under: Under = { provider: p.id, verifier, nonce, to: asked.to, browser: tokenHash(asked.browser) };
    if (!beginFlow(file, "oidc", state, under, now)) return err("busy");
    return ok(
      oidc.buildAuthorizationUrl(config, {
        redirect_uri: asked.back,
        scope: "openid email profile",
        code_challenge: await oidc.calculatePKCECodeChallenge(verifier),
        code_challenge_method: "S256",
        state,
        nonce,
      }),
    );
  } catch {
    return err("away");
  }
}

/** Once, and from the browser that began it. */
export async function endOidc(
  file: PortalFile,
  p: Provider,
  at: URL,
  browser: string | undefined,
  now: number,
  fetch: Fetch,
): Promise<Result<{ claimed: Claimed; to: string }, "over" | "refused" | "away">> {
  const state = at.searchParams.get("state") ?? "";
  const under = takeFlow<Under>(file, "oidc", state, now);
  if (!under || under.provider !== p.id || !browser || tokenHash(browser) !== under.browser) return err("over");
  try {
    const config = await configOf(file, p, now, fetch);
    const tokens = await oidc.authorizationCodeGrant(config, at, {
      pkceCodeVerifier: under.verifier,
      expectedState: state,
      expectedNonce: under.nonce,
      idTokenExpected: true,
    });
    const claims = tokens.claims();
    if (!claims?.sub) return err("refused");
    // Made later than now, it was made with a clock that is wrong, or by somebody who keeps it for later.
    if (claims.iat > Date.now() / 1000 + SKEW) return err("refused");
    const email = typeof claims.email === "string" ? claims.email : null;
    return ok({ claimed: { subject: claims.sub, email, verified: claims.email_verified === true }, to: under.to });
  } catch (e) {
    known.delete(`${file.id} ${p.id}`); // its keys may have changed
    return err(e instanceof Error && e.name === "TimeoutError" ? "away" : "refused");
  }
}
