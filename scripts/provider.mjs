/**
 * A stand-in for an organisation's own sign-in: OpenID Connect by `oidc-provider`, SAML 2.0 by a few signed lines. It has a page and people
 * of its own, asks for no password, and can be told to misbehave. For the demo and for tests; it holds nobody's secrets.
 */
import { randomUUID } from "node:crypto";
import { createServer } from "node:http";
import { inflateRawSync } from "node:zlib";
import Provider from "oidc-provider";
import { generate } from "selfsigned";
import { SignedXml } from "xml-crypto";

const escaped = (s) => String(s).replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");

/** How it may misbehave: each is said on its page, and counts until another is chosen. */
export const MODES = {
  honest: "It tells the truth.",
  unverified: "It says that no e-mail is verified.",
  lying: "It gives everybody the e-mail of the first of its people.",
  hanging: "It does not answer.",
  unsigned: "SAML: it signs nothing.",
  wrapped: "SAML: it puts an unsigned assertion about the first of its people before the signed one.",
};

const page = (title, body) =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title><body style="font:16px/1.5 sans-serif;max-width:30em;margin:3em auto;padding:0 1em;color:#222"><h1 style="font-size:1.4em">${escaped(title)}</h1>${body}</body></html>`;

const choices = (name, people) =>
  `<form method="post"><p>Whose account is it? (A stand-in: it asks for no password.)</p>${people
    .map(
      (p) =>
        `<p><button name="${name}" value="${escaped(p.sub)}" style="font:inherit;padding:.5em 1em;width:100%;text-align:left">${escaped(p.name)}<br><small>${escaped(p.email)}</small></button></p>`,
    )
    .join("")}</form>`;

/** A key of its own, with the certificate that says it is. */
export const newKeys = (name) => generate([{ name: "commonName", value: name }], { keySize: 2048, days: 3650, algorithm: "sha256" });

export function metadataOf(origin, { cert }) {
  const entity = `${origin}/saml/metadata`;
  const certificate = cert.replace(/-----[^-]+-----|\s/g, "");
  return `<?xml version="1.0"?><md:EntityDescriptor xmlns:md="urn:oasis:names:tc:SAML:2.0:metadata" entityID="${entity}"><md:IDPSSODescriptor protocolSupportEnumeration="urn:oasis:names:tc:SAML:2.0:protocol"><md:KeyDescriptor use="signing"><ds:KeyInfo xmlns:ds="http://www.w3.org/2000/09/xmldsig#"><ds:X509Data><ds:X509Certificate>${certificate}</ds:X509Certificate></ds:X509Data></ds:KeyInfo></md:KeyDescriptor><md:SingleSignOnService Binding="urn:oasis:names:tc:SAML:2.0:bindings:HTTP-Redirect" Location="${origin}/saml/sso"/></md:IDPSSODescriptor></md:EntityDescriptor>`;
}

/**
 * @param {{ port: number, name: string, people: { sub: string, name: string, email: string }[], clients: { client_id: string, client_secret: string, redirect_uris: string[] }[] }} given
 */
export async function startProvider({ port, name, people, clients, keys = newKeys(name) }) {
  let mode = "honest";
  const told = (p) => ({ ...p, email: mode === "lying" ? people[0].email : p.email, email_verified: mode !== "unverified" });
  const server = createServer();
  await new Promise((done) => server.listen(port, "127.0.0.1", done));
  const origin = `http://localhost:${server.address().port}`;

  const oidc = new Provider(origin, {
    clients,
    claims: { openid: ["sub"], email: ["email", "email_verified"], profile: ["name"] },
    conformIdTokenClaims: false,
    features: { devInteractions: { enabled: false } },
    interactions: { url: (_, i) => `/interaction/${i.uid}` },
    cookies: { keys: [randomUUID()] },
    findAccount: (_, id) => {
      const p = people.find((x) => x.sub === id);
      return p && { accountId: id, claims: async () => told(p) };
    },
    // Whoever chose an account has agreed: there is nothing more to ask in a stand-in.
    loadExistingGrant: async (ctx) => {
      const grant = new ctx.oidc.provider.Grant({ clientId: ctx.oidc.client.clientId, accountId: ctx.oidc.session.accountId });
      grant.addOIDCScope("openid email profile");
      await grant.save();
      return grant;
    },
  });

  const pems = await keys;
  const entity = `${origin}/saml/metadata`;
  const metadata = metadataOf(origin, pems);

  const assertion = (p, asked) => {
    const now = new Date();
    const until = new Date(now.getTime() + 300_000).toISOString();
    return `<saml:Assertion xmlns:saml="urn:oasis:names:tc:SAML:2.0:assertion" ID="_${randomUUID()}" Version="2.0" IssueInstant="${now.toISOString()}"><saml:Issuer>${entity}</saml:Issuer><saml:Subject><saml:NameID Format="urn:oasis:names:tc:SAML:2.0:nameid-format:persistent">${escaped(p.sub)}</saml:NameID><saml:SubjectConfirmation Method="urn:oasis:names:tc:SAML:2.0:cm:bearer"><saml:SubjectConfirmationData InResponseTo="${escaped(asked.id)}" NotOnOrAfter="${until}" Recipient="${escaped(asked.consumer)}"/></saml:SubjectConfirmation></saml:Subject><saml:Conditions NotBefore="${new Date(now.getTime() - 60_000).toISOString()}" NotOnOrAfter="${until}"><saml:AudienceRestriction><saml:Audience>${escaped(asked.issuer)}</saml:Audience></saml:AudienceRestriction></saml:Conditions><saml:AuthnStatement AuthnInstant="${now.toISOString()}"><saml:AuthnContext><saml:AuthnContextClassRef>urn:oasis:names:tc:SAML:2.0:ac:classes:unspecified</saml:AuthnContextClassRef></saml:AuthnContext></saml:AuthnStatement><saml:AttributeStatement><saml:Attribute Name="email"><saml:AttributeValue>${escaped(told(p).email)}</saml:AttributeValue></saml:Attribute></saml:AttributeStatement></saml:Assertion>`;
  };
  /** The response that answers a request about somebody, as base64. For tests it is changed before it is signed, or signed with SHA-1. */
  const samlResponse = (p, asked, { change = (xml) => xml, sha1 = false } = {}) => {
    const whole = (inner) =>
      `<samlp:Response xmlns:samlp="urn:oasis:names:tc:SAML:2.0:protocol" ID="_${randomUUID()}" Version="2.0" IssueInstant="${new Date().toISOString()}" Destination="${escaped(asked.consumer)}" InResponseTo="${escaped(asked.id)}"><saml:Issuer xmlns:saml="urn:oasis:names:tc:SAML:2.0:assertion">${entity}</saml:Issuer><samlp:Status><samlp:StatusCode Value="urn:oasis:names:tc:SAML:2.0:status:Success"/></samlp:Status>${inner}</samlp:Response>`;
    const plain = change(whole(assertion(p, asked)));
    if (mode === "unsigned") return Buffer.from(plain).toString("base64");
    const signer = new SignedXml({ privateKey: pems.private, publicCert: pems.cert });
    signer.signatureAlgorithm = sha1 ? "http://www.w3.org/2000/09/xmldsig#rsa-sha1" : "http://www.w3.org/2001/04/xmldsig-more#rsa-sha256";
    signer.canonicalizationAlgorithm = "http://www.w3.org/2001/10/xml-exc-c14n#";
    signer.addReference({
      xpath: "//*[local-name(.)='Assertion']",
      digestAlgorithm: sha1 ? "http://www.w3.org/2000/09/xmldsig#sha1" : "http://www.w3.org/2001/04/xmlenc#sha256",
      transforms: ["http://www.w3.org/2000/09/xmldsig#enveloped-signature", "http://www.w3.org/2001/10/xml-exc-c14n#"],
    });
    signer.computeSignature(plain, {
      location: { reference: "//*[local-name(.)='Assertion']/*[local-name(.)='Issuer']", action: "after" },
    });
    const signed = signer.getSignedXml();
    return Buffer.from(
      mode === "wrapped" ? signed.replace("</samlp:Status>", `</samlp:Status>${assertion(people[0], asked)}`) : signed,
    ).toString("base64");
  };
  const askedIn = (request) => {
    const xml = inflateRawSync(Buffer.from(request, "base64")).toString("utf8");
    const of = (name) => new RegExp(`${name}="([^"]+)"`).exec(xml)?.[1] ?? "";
    return { id: of(" ID"), consumer: of("AssertionConsumerServiceURL"), issuer: /Issuer[^>]*>([^<]+)</.exec(xml)?.[1] ?? "" };
  };

  const body = (req) =>
    new Promise((done) => {
      let text = "";
      req.on("data", (d) => (text += d)).on("end", () => done(new URLSearchParams(text)));
    });
  server.on("request", async (req, res) => {
    const url = new URL(req.url, origin);
    const html = (title, text) => res.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(page(title, text));
    if (url.pathname === "/") {
      const list = Object.entries(MODES).map(
        ([id, words]) =>
          `<li>${id === mode ? "<strong>" : ""}<a href="/mode/${id}">${escaped(id)}</a>: ${escaped(words)}${id === mode ? "</strong>" : ""}</li>`,
      );
      return html(
        name,
        `<p>A stand-in for the sign-in of an organisation, with people of its own: ${people.map((p) => escaped(`${p.name} (${p.email})`)).join(", ")}.</p><p>How it behaves:</p><ul>${list.join("")}</ul><p><a href="/saml/metadata">SAML metadata</a></p>`,
      );
    }
    const wanted = /^\/mode\/(\w+)$/.exec(url.pathname)?.[1];
    if (wanted && Object.hasOwn(MODES, wanted)) {
      mode = wanted;
      return res.writeHead(303, { location: "/" }).end();
    }
    if (mode === "hanging") return; // nobody gets an answer
    if (url.pathname === "/saml/metadata") return res.writeHead(200, { "content-type": "application/samlmetadata+xml" }).end(metadata);
    if (url.pathname === "/saml/sso") {
      const asked = askedIn(url.searchParams.get("SAMLRequest") ?? "");
      if (req.method !== "POST") return html(name, choices("sub", people));
      const sub = (await body(req)).get("sub");
      const who = people.find((x) => x.sub === sub);
      if (!who) return res.writeHead(400).end();
      return html(
        "On the way back",
        `<form method="post" action="${escaped(asked.consumer)}"><input type="hidden" name="SAMLResponse" value="${samlResponse(who, asked)}"><button autofocus style="font:inherit;padding:.5em 1em">Go on</button></form><script>document.forms[0].submit()</script>`,
      );
    }
    if (url.pathname.startsWith("/interaction/")) {
      if (req.method !== "POST") return html(name, choices("sub", people));
      const accountId = (await body(req)).get("sub") ?? "";
      return oidc.interactionFinished(req, res, { login: { accountId } }, { mergeWithLastSubmission: false });
    }
    oidc.callback()(req, res);
  });
  return {
    origin,
    metadata,
    samlResponse,
    askedIn,
    behave: (next) => void (mode = next),
    stop: () =>
      new Promise((done) => {
        server.close(() => done());
        server.closeAllConnections();
      }),
  };
}
