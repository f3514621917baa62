/** SAML 2.0 web browser SSO (OASIS profiles, section 4.1): signed assertions only, each answering a request of ours, once. */
import { SAML, ValidateInResponseTo } from "@node-saml/node-saml";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import { beginFlow, takeFlow } from "../secrets/flows";
import { newToken, tokenHash } from "../secrets/secrets";
import { type Claimed, certificateOf, type Provider } from "./providers";
import { requestIn, textOf, verifyAside } from "./saml-verify";

export interface SamlPlaces {
  /** Entity id of the portal, and where its metadata are. */
  readonly entity: string;
  /** Assertion consumer service. */
  readonly consumer: string;
}

interface Under {
  readonly to: string;
  readonly browser: string;
}

function samlOf(file: PortalFile, p: Provider, places: SamlPlaces, now: number, body: Under | null): SAML {
  return new SAML({
    callbackUrl: places.consumer,
    issuer: places.entity,
    audience: places.entity,
    entryPoint: p.settings.entry ?? "",
    idpIssuer: p.settings.entity ?? "",
    idpCert: certificateOf(p),
    wantAssertionsSigned: true,
    wantAuthnResponseSigned: false,
    disableRequestedAuthnContext: true,
    identifierFormat: null,
    acceptedClockSkewMs: 30_000,
    maxAssertionAgeMs: 10 * 60_000,
    requestIdExpirationPeriodMs: 10 * 60_000,
    validateInResponseTo: ValidateInResponseTo.always,
    // Requests that are under way are kept in the portal's file, and each is answered once.
    cacheProvider: {
      saveAsync: async (key, value) => {
        beginFlow(file, "saml", `${p.id} ${key}`, body, now);
        return { value, createdAt: now };
      },
      // Answers are looked at by saml-verify.ts.
      getAsync: async () => null,
      removeAsync: async (key) => key,
    },
  });
}

/** The address at the provider to which a browser is sent, with a request that is kept until it is answered. `now` in milliseconds. */
export async function beginSaml(
  file: PortalFile,
  p: Provider,
  places: SamlPlaces,
  asked: { to: string; browser: string },
  now: number,
): Promise<URL> {
  const under = { to: asked.to, browser: tokenHash(asked.browser) };
  return new URL(await samlOf(file, p, places, now, under).getAuthorizeUrlAsync("", undefined, {}));
}

/**
 * What the provider posted, from its own site: no cookie of ours comes with it. So nobody is let in here: who it is is kept for one look by
 * the browser that began it.
 */
export async function consumeSaml(
  file: PortalFile,
  p: Provider,
  places: SamlPlaces,
  response: string,
  now: number,
): Promise<Result<{ landing: string }, "refused">> {
  const xml = textOf(response);
  const answered = xml && requestIn(xml);
  // A request is answered once, rightly or wrongly; what answers none of ours is not parsed at all.
  const under = answered ? takeFlow<Under>(file, "saml", `${p.id} ${answered}`, now) : undefined;
  if (!answered || !under) return err("refused");
  const provider = { entity: p.settings.entity ?? "", entry: p.settings.entry ?? "", certificate: certificateOf(p) };
  const said = await verifyAside({ response, request: answered, ...places, provider, now });
  if (!said.ok) return said;
  const claimed: Claimed = { ...said.value, verified: true };
  const landing = newToken();
  if (!beginFlow(file, "saml done", `${p.id} ${landing}`, { claimed, ...under }, now)) return err("refused");
  return ok({ landing });
}

/** Who it is by the provider's answer, once, and in the browser that began it alone. "over" for any other. `now` in milliseconds. */
export function landSaml(
  file: PortalFile,
  p: Provider,
  landing: string,
  browser: string | undefined,
  now: number,
): Result<{ claimed: Claimed; to: string }, "over"> {
  const done = takeFlow<Under & { claimed: Claimed }>(file, "saml done", `${p.id} ${landing}`, now);
  return done && browser && tokenHash(browser) === done.browser ? ok({ claimed: done.claimed, to: done.to }) : err("over");
}

/** For the provider's own set-up. */
export const samlMetadata = (file: PortalFile, p: Provider, places: SamlPlaces, now: number): string =>
  samlOf(file, p, places, now, null).generateServiceProviderMetadata(null, null);
