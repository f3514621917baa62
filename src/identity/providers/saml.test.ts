import { describe, expect, it } from "vitest";
import { organisation, PEOPLE, withOrganisation, world } from "@/testing/organisation";
import { startProvider } from "../../../scripts/provider.mjs";
import { personOf } from "./providers";
import { beginSaml, consumeSaml, landSaml, samlMetadata } from "./saml";
import { metadataIn } from "./saml-metadata";

const _HERE = { address: "192.0.2.1", device: null };
withOrganisation();

describe("SAML 2.0", () => {
  const places = {
    entity: "http://portal.localhost:3999/-/outside/x/metadata",
    consumer: "http://portal.localhost:3999/-/outside/x/consumer",
  };
  const asked = async (w: ReturnType<typeof world>, browser = "b") =>
    organisation.idp.askedIn(
      (await beginSaml(w.p.file, w.provider, places, { to: "/signs", browser }, w.now)).searchParams.get("SAMLRequest")!,
    );
  const consume = (w: ReturnType<typeof world>, response: string, now = w.now) => consumeSaml(w.p.file, w.provider, places, response, now);

  it("a signed assertion that answers our request leads the browser that began it in, once", async () => {
    const w = world("saml");
    const response = organisation.idp.samlResponse(PEOPLE[0]!, await asked(w));
    const done = await consume(w, response);
    if (!done.ok) throw new Error(done.error);
    expect(landSaml(w.p.file, w.provider, done.value.landing, "another's", w.now)).toEqual({ ok: false, error: "over" });
    expect(await consume(w, response)).toEqual({ ok: false, error: "refused" }); // replayed
    const second = await consume(w, organisation.idp.samlResponse(PEOPLE[0]!, await asked(w)));
    const landed = landSaml(w.p.file, w.provider, second.ok ? second.value.landing : "", "b", w.now);
    expect(landed).toEqual({ ok: true, value: { claimed: { subject: "u1", email: "dana@t.example", verified: true }, to: "/signs" } });
    expect(personOf(w.p.file, w.provider, landed.ok ? landed.value.claimed : { subject: "", email: null, verified: false }, w.now)).toBe(
      w.dana,
    );
  });
  it("unsigned, asked for by nobody, for another audience, or late: refused", async () => {
    const w = world("saml");
    organisation.idp.behave("unsigned");
    expect(await consume(w, organisation.idp.samlResponse(PEOPLE[0]!, await asked(w)))).toEqual({ ok: false, error: "refused" });
    organisation.idp.behave("honest");
    expect(await consume(w, organisation.idp.samlResponse(PEOPLE[0]!, { ...(await asked(w)), id: "_made-up" }))).toEqual({
      ok: false,
      error: "refused",
    });
    expect(await consume(w, organisation.idp.samlResponse(PEOPLE[0]!, { ...(await asked(w)), issuer: "http://another.example" }))).toEqual({
      ok: false,
      error: "refused",
    });
    expect(await consume(w, organisation.idp.samlResponse(PEOPLE[0]!, await asked(w)), w.now + 11 * 60_000)).toEqual({
      ok: false,
      error: "refused",
    });
    for (const junk of [
      "",
      "x",
      Buffer.from("<a>").toString("base64"),
      Buffer.from('<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>').toString("base64"),
    ])
      expect(await consume(w, junk)).toEqual({ ok: false, error: "refused" });
  });
  /**
   * XML signature wrapping: Somorovsky et al., "On Breaking SAML: Be Whoever You Want to Be" (USENIX Security 2012), sections 3 and 4: the
   * signed element is left whole and moved, and another is put where it is read. The eight places are ours after its figures, from memory.
   */
  it("a signature about something else proves nothing, wherever the forged assertion stands", async () => {
    const w = world("saml");
    const about = async () => {
      const request = await asked(w);
      const signed = Buffer.from(organisation.idp.samlResponse(PEOPLE[0]!, request), "base64").toString("utf8");
      const original = /<saml:Assertion[\s\S]*<\/saml:Assertion>/.exec(signed)![0];
      const bare = original.replace(/<(?:ds:)?Signature[\s\S]*<\/(?:ds:)?Signature>/, "");
      const forged = bare
        .replace(/ID="[^"]*"/, 'ID="_forged"')
        .replaceAll("u1", "u2")
        .replaceAll("dana@t.example", "olga@t.example");
      const sameId = bare.replaceAll("u1", "u2").replaceAll("dana@t.example", "olga@t.example");
      const signature = /<(?:ds:)?Signature[\s\S]*<\/(?:ds:)?Signature>/.exec(original)![0];
      return { signed, original, forged, sameId, signature };
    };
    const moves: ((x: Awaited<ReturnType<typeof about>>) => string)[] = [
      ({ signed, original, forged }) => signed.replace(original, forged + original),
      ({ signed, original, forged }) => signed.replace(original, original + forged),
      ({ signed, original, forged }) => signed.replace(original, forged.replace("</saml:Assertion>", `${original}</saml:Assertion>`)),
      ({ signed, original, forged }) =>
        signed.replace(original, forged.replace("</saml:Assertion>", `<saml:Advice>${original}</saml:Advice></saml:Assertion>`)),
      ({ signed, original, forged, signature }) => signed.replace(original, forged.replace("</saml:Issuer>", `</saml:Issuer>${signature}`)),
      ({ signed, original, forged, signature }) =>
        signed.replace(
          original,
          forged.replace(
            "</saml:Issuer>",
            `</saml:Issuer>${signature.replace(/<\/((?:ds:)?)Signature>$/, (_, p: string) => `<${p}Object>${original.replace(signature, "")}</${p}Object></${p}Signature>`)}`,
          ),
        ),
      ({ signed, original, sameId }) => signed.replace(original, sameId + original),
      ({ signed, original, forged }) => signed.replace(original, `<samlp:Extensions>${original}</samlp:Extensions>${forged}`),
      ({ signed }) => signed.replace("olga", "dana").replace(">u1<", ">u<!-- -->2<"),
      ({ signed }) => signed.replaceAll("dana@t.example", "olga@t.example"),
    ];
    for (const [i, move] of moves.entries()) {
      const done = await consume(w, Buffer.from(move(await about())).toString("base64"));
      const landed = done.ok ? landSaml(w.p.file, w.provider, done.value.landing, "b", w.now) : null;
      // Refused, or what was signed is what is read: never the forged one.
      expect([i, landed?.ok ? landed.value.claimed.subject : "refused"]).not.toEqual([i, "u2"]);
      expect([i, landed?.ok ? landed.value.claimed.email : "refused"]).not.toEqual([i, "olga@t.example"]);
    }
  });
  it("a key that the agency did not register signs nothing here", async () => {
    const w = world("saml");
    const stranger = await startProvider({ port: 0, name: "Stranger", people: PEOPLE, clients: [] });
    try {
      expect(await consume(w, stranger.samlResponse(PEOPLE[0]!, await asked(w)))).toEqual({ ok: false, error: "refused" });
    } finally {
      await stranger.stop();
    }
  });
  it("metadata go in and out; with a document type, without a key or an address they are refused", async () => {
    const w = world("saml");
    expect(samlMetadata(w.p.file, w.provider, places, w.now)).toContain(`Location="${places.consumer}"`);
    expect(metadataIn(organisation.idp.metadata).ok).toBe(true);
    for (const bad of [
      "",
      "no xml <",
      `<!DOCTYPE x>${organisation.idp.metadata}`,
      organisation.idp.metadata.replace(/<ds:X509Certificate>[^<]*/, "<ds:X509Certificate>AAAA"),
      organisation.idp.metadata.replace("HTTP-Redirect", "HTTP-POST"),
      organisation.idp.metadata.replace(/Location="[^"]*"/, 'Location="http://id.example/sso"'),
    ])
      expect(metadataIn(bad).ok).toBe(false);
  });
});
