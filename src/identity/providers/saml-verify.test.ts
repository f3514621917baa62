/** What a stranger posts as a SAML response is small before it is parsed, and held to the profile, each rule by itself. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type StandInProvider, startProvider } from "../../../scripts/provider.mjs";
import { certificateIn, metadataIn } from "./saml-metadata";
import { MOST_CHARACTERS, profileProblem, requestIn, type SamlAsked, textOf, verifySaml } from "./saml-verify";

const DANA = { sub: "u1", name: "Dana", email: "dana@t.example" };
const ASKED = {
  id: "_request-0123456789",
  consumer: "http://portal.localhost:3999/-/outside/x/consumer",
  issuer: "http://portal.localhost:3999/-/outside/x/metadata",
};
let idp: StandInProvider;
let provider: SamlAsked["provider"];
beforeAll(async () => {
  idp = await startProvider({ port: 0, name: "Test organisation", people: [DANA], clients: [] });
  const read = metadataIn(idp.metadata);
  if (!read.ok) throw new Error(read.error);
  provider = { entity: read.value.entity, entry: read.value.entry, certificate: certificateIn(read.value.certificate) };
});
afterAll(() => idp.stop());

const base64 = (xml: string): string => Buffer.from(xml).toString("base64");
const asked = (response: string): SamlAsked => ({
  response,
  request: ASKED.id,
  entity: ASKED.issuer,
  consumer: ASKED.consumer,
  provider,
  now: Date.now(),
});
const signed = (change: (xml: string) => string = (xml) => xml, sha1 = false): string => idp.samlResponse(DANA, ASKED, { change, sha1 });

describe("held to the profile", () => {
  it("a sound one is taken", async () => {
    expect(await verifySaml(asked(signed()))).toEqual({ subject: "u1", email: "dana@t.example" });
  });
  // OASIS SAML 2.0: profiles 4.1.4.2 and 4.1.4.3 (issuer, recipient, request, time, audience), bindings 3.5.5.2 (destination), core 3.2.2.1 (status).
  const SUCCESS = "urn:oasis:names:tc:SAML:2.0:status:Success";
  const wrong: [problem: string, change: (xml: string) => string, sha1?: true][] = [
    ["destination", (x) => x.replace(/ Destination="[^"]*"/, "")],
    ["destination", (x) => x.replace(/ Destination="[^"]*"/, ' Destination="http://other.example/"')],
    ["recipient", (x) => x.replace(/ Recipient="[^"]*"/, "")],
    ["recipient", (x) => x.replace(/ Recipient="[^"]*"/, ' Recipient="http://other.example/"')],
    ["issuer", (x) => x.replace(/<saml:Issuer xmlns[^>]*>[^<]*<\/saml:Issuer>(<samlp:Status>)/, "$1")],
    ["issuer", (x) => x.replace(/(<saml:Issuer xmlns[^>]*>)[^<]*/, "$1http://other.example")],
    ["assertion issuer", (x) => x.replace(/(<saml:Issuer>)[^<]*/, "$1http://other.example")],
    ["status", (x) => x.replace(SUCCESS, "urn:oasis:names:tc:SAML:2.0:status:AuthnFailed")],
    ["status", (x) => x.replace(/<samlp:StatusCode[^>]*>/, "")],
    ["confirmed request", (x) => x.replace(/(SubjectConfirmationData )InResponseTo="[^"]*"/, "$1")],
    ["confirmed time", (x) => x.replace(/(InResponseTo="[^"]*" )NotOnOrAfter="[^"]*"( Recipient)/, "$1$2")],
    ["confirmation", (x) => x.replace("cm:bearer", "cm:holder-of-key")],
    ["audience", (x) => x.replace(/<saml:AudienceRestriction>.*<\/saml:AudienceRestriction>/, "")],
    ["request", (x) => x.replace(ASKED.id, "_another-request-01")],
    ["algorithm", (x) => x, true],
  ];
  for (const [problem, change, sha1] of wrong)
    it(`not without its ${problem}${sha1 ? " of SHA-2" : ""}: ${String(change).slice(7, 90)}`, async () => {
      const response = signed(change, sha1);
      const xml = textOf(response)!;
      if (!sha1) expect(xml).not.toBe(textOf(signed()));
      expect(profileProblem(xml, asked(response))).toBe(problem);
      expect(await verifySaml(asked(response))).toBeNull();
    });
  it("not unsigned, nor with a comment in a name that cuts it short", async () => {
    const xml = textOf(signed())!;
    expect(profileProblem(xml.replace(/<Signature[\s\S]*<\/Signature>/, ""), asked(""))).toBe("algorithm");
    await expect(verifySaml(asked(base64(xml.replace(">u1<", ">u<!-- -->2<")))).catch(() => null)).resolves.not.toMatchObject({
      subject: "u2",
    });
  });
});

describe("bounded before it is parsed", () => {
  const of = (inner: string): string =>
    base64(`<samlp:Response xmlns:samlp="urn:oasis:names:tc:SAML:2.0:protocol">${inner}</samlp:Response>`);
  it("too many bytes, elements, attributes or floors, and what a provider never writes", () => {
    for (const [what, response] of [
      ["bytes", of("x".repeat(100_000))],
      ["elements", of("<a/>".repeat(601))],
      ["attributes", of(`<a ${Array.from({ length: 1_501 }, (_, i) => `a${i}=""`).join(" ")}/>`)],
      ["depth", of(`${"<a>".repeat(31)}${"</a>".repeat(31)}`)],
      ["an open tag", base64("<samlp:Response <a")],
      ["document type", base64('<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>')],
      ["cdata", of("<![CDATA[<a>]]>")],
      ["instruction", of("<?php ?>")],
      ["not base64", "<a/>"],
    ])
      expect([what, textOf(response!)]).toEqual([what, null]);
    expect(requestIn("<a InResponseTo='x'>")).toBeNull();
  });
  it("the largest that is let through is looked at in a moment, whatever it is filled with", { timeout: 30_000 }, async () => {
    const room = Math.floor((MOST_CHARACTERS * 3) / 4) - 6_000;
    const sound = textOf(signed())!;
    const fillings = [
      "<a/>".repeat(560),
      `<a b="${"&amp;".repeat(room / 5)}"/>`,
      "&amp;".repeat(room / 5),
      `${"<a>".repeat(25)}${" ".repeat(room / 2)}${"</a>".repeat(25)}`,
      `<a ${Array.from({ length: 1_400 }, (_, i) => `x${i}="${"y".repeat(20)}"`).join(" ")}/>`,
      `<a ${Array.from({ length: 1_400 }, (_, i) => `xmlns:x${i}="urn:${i}"`).join(" ")}/>`,
      `<!--${"-a".repeat(room / 4)}-->`,
    ];
    for (const filling of fillings)
      for (const xml of [
        sound.replace("</samlp:Status>", `</samlp:Status>${filling}`),
        sound.replace("<saml:Conditions", `${filling}<saml:Conditions`),
      ]) {
        const response = base64(xml);
        expect(response.length).toBeLessThan(MOST_CHARACTERS * 1.1);
        // One alone took 88 s before it was bounded: the time that this test has is the check.
        await verifySaml(asked(response)).catch(() => null);
      }
  });
});
