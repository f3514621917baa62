/**
 * A SAML response looked at, in a thread of its own: what a stranger posted is bounded before it is parsed, and held to the profile by our own
 * eyes beside the library's. No database here, and nobody is let in.
 */
import { SAML, ValidateInResponseTo } from "@node-saml/node-saml";
import { DOMParser } from "@xmldom/xmldom";
import { err, ok, type Result } from "@/core/result";
import { task } from "@/data/threads";

export interface SamlAsked {
  /** As it was posted: base64. */
  readonly response: string;
  /** The id of our request that it must answer. */
  readonly request: string;
  readonly entity: string;
  readonly consumer: string;
  readonly provider: { readonly entity: string; readonly entry: string; readonly certificate: string };
  readonly now: number;
}

export interface SamlSaid {
  readonly subject: string;
  readonly email: string | null;
}

/** Of base64. A response with a certificate and a hundred attributes has about 30 kB (common practice, no source). */
export const MOST_CHARACTERS = 128 * 1024;
const MOST_ELEMENTS = 600;
const MOST_ATTRIBUTES = 1_500;
const MOST_DEPTH = 30;
/** Milliseconds: a sound one takes a few dozen. */
const DEADLINE = 3_000;

/** The text of a response, if it is small and plain enough to be parsed. One pass over it, whatever stands in it. */
export function textOf(response: string): string | null {
  if (response.length > MOST_CHARACTERS || !/^[A-Za-z0-9+/\s]+={0,2}\s*$/.test(response)) return null;
  const xml = Buffer.from(response, "base64").toString("utf8");
  // Entities are declared in a document type, and processing instructions are for programs: a provider writes neither.
  if (/<!DOCTYPE|<!ENTITY|<!\[CDATA\[|<\?(?!xml\s)/i.test(xml)) return null;
  let [elements, depth, attributes] = [0, 0, 0];
  for (let i = xml.indexOf("<"); i >= 0; i = xml.indexOf("<", i + 1)) {
    const next = xml[i + 1];
    if (next === "!" || next === "?") continue;
    depth += next === "/" ? -1 : 1;
    if (next !== "/") {
      const end = xml.indexOf(">", i);
      if (end < 0) return null;
      if (xml[end - 1] === "/") depth--;
      for (let a = i; a < end; a++) if (xml[a] === "=") attributes++;
      elements++;
    }
    if (elements > MOST_ELEMENTS || depth > MOST_DEPTH || attributes > MOST_ATTRIBUTES) return null;
  }
  return xml;
}

/** Which of our requests it says that it answers; before anything is parsed. */
export const requestIn = (xml: string): string | null => /\sInResponseTo="([\w-]{10,100})"/.exec(xml)?.[1] ?? null;

const PROTOCOL = "urn:oasis:names:tc:SAML:2.0:protocol";
const ASSERTION = "urn:oasis:names:tc:SAML:2.0:assertion";
const DSIG = "http://www.w3.org/2000/09/xmldsig#";
const BEARER = "urn:oasis:names:tc:SAML:2.0:cm:bearer";
const SUCCESS = "urn:oasis:names:tc:SAML:2.0:status:Success";
/** SHA-2 alone: SHA-1 is not to be signed with (NIST SP 800-131A revision 2, section 3). */
const SIGNED = /^http:\/\/www\.w3\.org\/2001\/04\/xmldsig-more#(?:rsa|ecdsa)-sha(?:256|384|512)$/;
const DIGESTED = /^http:\/\/www\.w3\.org\/2001\/04\/(?:xmlenc#sha(?:256|512)|xmldsig-more#sha384)$/;

type El = {
  getAttribute(n: string): string | null;
  hasAttribute(n: string): boolean;
  readonly textContent: string | null;
  readonly parentNode: unknown;
  getElementsByTagNameNS(ns: string, n: string): ArrayLike<El>;
};

/**
 * What the profile asks (OASIS SAML 2.0 profiles, section 4.1.4; core, section 3.2.2; bindings, section 3.5.5.2), each by itself, though the
 * library looks at some of it, too: a name of what is wrong, or null.
 */
export function profileProblem(xml: string, a: SamlAsked): string | null {
  const doc = new DOMParser({
    onError: (level, message) => {
      if (level !== "warning") throw new Error(message);
    },
  }).parseFromString(xml, "text/xml");
  const all = (of: El, ns: string, name: string): El[] => Array.from(of.getElementsByTagNameNS(ns, name));
  const root = doc.documentElement as unknown as El & { localName: string; namespaceURI: string };
  if (root?.localName !== "Response" || root.namespaceURI !== PROTOCOL) return "root";
  const own = (list: El[]): El[] => list.filter((e) => e.parentNode === root);
  if (root.getAttribute("Destination") !== a.consumer) return "destination";
  if (root.getAttribute("InResponseTo") !== a.request) return "request";
  const issuer = (e: El | undefined): string | undefined => e?.textContent?.trim();
  const [said] = own(all(root, ASSERTION, "Issuer"));
  if (issuer(said) !== a.provider.entity) return "issuer";
  const codes = all(root, PROTOCOL, "StatusCode");
  if (codes.length !== 1 || codes[0]!.getAttribute("Value") !== SUCCESS) return "status";
  const assertions = all(root, ASSERTION, "Assertion");
  const [assertion] = assertions;
  if (assertions.length !== 1 || assertion!.parentNode !== root) return "assertion";
  if (issuer(all(assertion!, ASSERTION, "Issuer")[0]) !== a.provider.entity) return "assertion issuer";
  const confirmed = all(assertion!, ASSERTION, "SubjectConfirmation").filter((c) => c.getAttribute("Method") === BEARER);
  const data = confirmed.flatMap((c) => all(c, ASSERTION, "SubjectConfirmationData"));
  if (confirmed.length !== 1 || data.length !== 1) return "confirmation";
  const [d] = data as [El];
  if (d.getAttribute("Recipient") !== a.consumer) return "recipient";
  if (d.getAttribute("InResponseTo") !== a.request) return "confirmed request";
  if (d.hasAttribute("NotBefore") || !(Date.parse(d.getAttribute("NotOnOrAfter") ?? "") > a.now - 30_000)) return "confirmed time";
  const audiences = all(assertion!, ASSERTION, "Audience").map((x) => x.textContent?.trim());
  if (!audiences.includes(a.entity)) return "audience";
  const methods = [...all(root, DSIG, "SignatureMethod")].map((m) => m.getAttribute("Algorithm") ?? "");
  const digests = [...all(root, DSIG, "DigestMethod")].map((m) => m.getAttribute("Algorithm") ?? "");
  if (methods.length === 0 || !methods.every((m) => SIGNED.test(m)) || !digests.every((m) => DIGESTED.test(m))) return "algorithm";
  return null;
}

/** Null where it is refused. @throws Where it is no XML. */
export async function verifySaml(a: SamlAsked): Promise<SamlSaid | null> {
  const xml = textOf(a.response);
  if (xml === null || profileProblem(xml, a) !== null) return null;
  const saml = new SAML({
    callbackUrl: a.consumer,
    issuer: a.entity,
    audience: a.entity,
    entryPoint: a.provider.entry,
    idpIssuer: a.provider.entity,
    idpCert: a.provider.certificate,
    wantAssertionsSigned: true,
    wantAuthnResponseSigned: false,
    acceptedClockSkewMs: 30_000,
    maxAssertionAgeMs: 10 * 60_000,
    // Whether it answers a request of ours was looked at before it came here.
    validateInResponseTo: ValidateInResponseTo.never,
  });
  const { profile } = await saml.validatePostResponseAsync({ SAMLResponse: a.response });
  if (!profile?.nameID || profile.inResponseTo !== a.request) return null;
  const said = [profile.email, profile.mail, profile["urn:oid:0.9.2342.19200300.100.1.3"], profile.nameID].find(
    (v) => typeof v === "string" && v.includes("@"),
  );
  return { subject: profile.nameID, email: typeof said === "string" ? said : null };
}

export const samlTask = task("saml", verifySaml, { deadline: DEADLINE });

/** Refused, too, where it takes too long: whoever waits behind it does not. */
export async function verifyAside(a: SamlAsked): Promise<Result<SamlSaid, "refused">> {
  const said = await samlTask.do(a).catch(() => null);
  return said ? ok(said) : err("refused");
}
