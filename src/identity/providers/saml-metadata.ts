/** A provider's metadata (OASIS SAML 2.0 metadata, section 2.4.3): who it is, where it is asked, and the key it signs with. */
import { X509Certificate } from "node:crypto";
import { DOMParser } from "@xmldom/xmldom";
import { err, ok, type Result } from "@/core/result";

const MD = "urn:oasis:names:tc:SAML:2.0:metadata";
const DS = "http://www.w3.org/2000/09/xmldsig#";
const REDIRECT = "urn:oasis:names:tc:SAML:2.0:bindings:HTTP-Redirect";

export interface SamlSettings extends Record<string, string> {
  readonly entity: string;
  readonly entry: string;
  /** Base64 of the DER. */
  readonly certificate: string;
}

/** PEM, of what metadata hold. @throws Where it is no certificate. */
export function certificateIn(base64: string): string {
  const lines = base64.replace(/\s/g, "").match(/.{1,64}/g) ?? [];
  const pem = `-----BEGIN CERTIFICATE-----\n${lines.join("\n")}\n-----END CERTIFICATE-----\n`;
  return new X509Certificate(pem).toString();
}

export function metadataIn(xml: string): Result<SamlSettings, string> {
  // A document type is where entities are declared: nothing that a provider writes needs one.
  if (/<!DOCTYPE|<!ENTITY/i.test(xml)) return err("Metadata with a document type are not read.");
  let doc: ReturnType<DOMParser["parseFromString"]>;
  try {
    doc = new DOMParser({
      onError: (level, message) => {
        if (level !== "warning") throw new Error(message);
      },
    }).parseFromString(xml, "text/xml");
  } catch {
    return err("This is no XML that can be read.");
  }
  const all = (parent: { getElementsByTagNameNS(ns: string, name: string): ArrayLike<unknown> }, ns: string, name: string) =>
    Array.from(parent.getElementsByTagNameNS(ns, name)) as {
      getAttribute(n: string): string | null;
      textContent: string | null;
      getElementsByTagNameNS(ns: string, n: string): ArrayLike<unknown>;
    }[];
  const [entity] = all(doc, MD, "EntityDescriptor");
  const idp = entity && all(entity, MD, "IDPSSODescriptor")[0];
  const id = entity?.getAttribute("entityID");
  if (!idp || !id) return err("These are not the metadata of a provider: there is no IDPSSODescriptor.");
  const entry = all(idp, MD, "SingleSignOnService")
    .find((s) => s.getAttribute("Binding") === REDIRECT)
    ?.getAttribute("Location");
  if (!entry || !URL.canParse(entry)) return err("There is no address for HTTP-Redirect in them.");
  const { protocol, hostname } = new URL(entry);
  if (protocol !== "https:" && hostname !== "localhost" && hostname !== "127.0.0.1")
    return err("The provider's address does not begin with https://.");
  const keys = all(idp, MD, "KeyDescriptor").filter((k) => (k.getAttribute("use") ?? "signing") === "signing");
  const certificate = keys.flatMap((k) => all(k, DS, "X509Certificate"))[0]?.textContent?.replace(/\s/g, "");
  try {
    certificateIn(certificate ?? "");
  } catch {
    return err("There is no certificate for signing in them.");
  }
  return ok({ entity: id, entry, certificate: certificate! });
}
