/**
 * Providers of identity, against `oidc-provider` (a certified OpenID provider) and signed SAML of our stand-in: who is known by them, and
 * what a provider that lies, repeats, hangs or signs the wrong thing reaches.
 */

import * as oidc from "openid-client";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { guardedFetch } from "@/services/outside/guarded";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { type StandInProvider, startProvider } from "../../../scripts/provider.mjs";
import { outsideDoor } from "../doors/outside";
import { AT_FIRST, keepDoors } from "../doors/settings";
import { comeIn } from "../entering/enter";
import { beginOidc, endOidc } from "./oidc";
import { addProvider, type Claimed, personOf, providerById, providersOf, removeProvider, secretOf } from "./providers";
import { beginSaml, consumeSaml, landSaml, samlMetadata } from "./saml";
import { metadataIn } from "./saml-metadata";

const BACK = "http://portal.localhost:3999/-/outside/x/back";
const PEOPLE = [
  { sub: "u1", name: "Dana", email: "dana@t.example" },
  { sub: "u2", name: "Olga", email: "olga@t.example" },
  { sub: "u3", name: "Else", email: "else@elsewhere.example" },
];
const HERE = { address: "192.0.2.1", device: null };
ownFolder();
let idp: StandInProvider;
beforeAll(async () => {
  process.env.ELKHORN_INSIDE = "localhost";
  idp = await startProvider({
    port: 0,
    name: "Test organisation",
    people: PEOPLE,
    clients: [{ client_id: "elkhorn", client_secret: "s3cret-of-the-client", redirect_uris: [BACK] }],
  });
});
afterEach(() => idp.behave("honest"));
afterAll(async () => {
  await idp.stop();
  delete process.env.ELKHORN_INSIDE;
});

function world(kind: "oidc" | "saml" = "oidc") {
  const p = testPortal({ grants: [] });
  keepDoors(p.file, p.owner, { ...AT_FIRST, open: [...AT_FIRST.open, "outside"] });
  const dana = p.person("Dana", "One", "lead").viewer.person!.id;
  const olga = p.person("Olga", "Two", "lead").viewer.person!.id;
  const made = addProvider(
    p.file,
    p.owner,
    kind === "oidc"
      ? { kind, name: "Org", domains: ["t.example"], issuer: idp.origin, client: "elkhorn", secret: "s3cret-of-the-client" }
      : { kind, name: "Org", domains: ["t.example"], metadata: idp.metadata },
  );
  if (!made.ok) throw new Error(made.error.message);
  return { p, dana, olga, provider: providerById(p.file, made.value.id)!, now: Date.now() };
}

/** As a browser: follows to the stand-in's page, chooses somebody, and follows back. */
async function through(url: URL, sub: string): Promise<URL> {
  const jar = new Map<string, string>();
  let at = url.href;
  let init: RequestInit = {};
  for (let i = 0; i < 12; i++) {
    const r = await fetch(at, {
      ...init,
      redirect: "manual",
      headers: { ...init.headers, cookie: [...jar].map(([k, v]) => `${k}=${v}`).join("; ") },
    });
    for (const c of r.headers.getSetCookie()) {
      const [pair] = c.split(";") as [string];
      jar.set(pair.slice(0, pair.indexOf("=")), pair.slice(pair.indexOf("=") + 1));
    }
    const next = r.headers.get("location");
    if (next?.startsWith(BACK)) return new URL(next);
    if (next) {
      at = new URL(next, at).href;
      init = {};
    } else init = { method: "POST", body: new URLSearchParams({ sub }), headers: { "content-type": "application/x-www-form-urlencoded" } };
  }
  throw new Error("It never came back.");
}

describe("OpenID Connect", () => {
  const begun = async (w: ReturnType<typeof world>, browser = "b") => {
    const b = await beginOidc(w.p.file, w.provider, { back: BACK, to: "/signs", browser }, w.now, guardedFetch);
    if (!b.ok) throw new Error(b.error);
    return b.value;
  };
  // RFC 7636 appendix B.
  it("PKCE: the verifier and challenge of the RFC", async () =>
    expect(await oidc.calculatePKCECodeChallenge("dBjftJeZ4CVP-mB92K27uhbUJU1p1r_wW1gFWFOEjXk")).toBe(
      "E9Melhoa2OwvFrEMTJguCHaoeK1t8URWbuGJSstw-cM",
    ));
  it("somebody who is here comes in by the e-mail that the provider has verified, and from then on by their account", async () => {
    const w = world();
    const url = await begun(w);
    expect([
      url.searchParams.get("code_challenge_method"),
      url.searchParams.get("state")!.length > 20,
      url.searchParams.get("nonce")!.length > 20,
    ]).toEqual(["S256", true, true]);
    const back = await through(url, "u1");
    const done = await endOidc(w.p.file, w.provider, back, "b", w.now, guardedFetch);
    if (!done.ok) throw new Error(done.error);
    expect(done.value).toEqual({ claimed: { subject: "u1", email: "dana@t.example", verified: true }, to: "/signs" });
    const inside = await comeIn(w.p.file, outsideDoor, { provider: w.provider, claimed: done.value.claimed }, HERE, w.now);
    expect(inside.ok && inside.value.personId).toBe(w.dana);
    // Another e-mail there, or none: it is their account that counts.
    expect(personOf(w.p.file, w.provider, { subject: "u1", email: "olga@t.example", verified: true }, w.now)).toBe(w.dana);
    expect(personOf(w.p.file, w.provider, { subject: "u1", email: null, verified: false }, w.now)).toBe(w.dana);
    // The same answer does nothing a second time.
    expect(await endOidc(w.p.file, w.provider, back, "b", w.now, guardedFetch)).toEqual({ ok: false, error: "over" });
  });
  it("an answer that another browser began, without a state, of another provider, or late, is over", async () => {
    const w = world();
    const back = await through(await begun(w, "mine"), "u1");
    expect(await endOidc(w.p.file, w.provider, back, "another's", w.now, guardedFetch)).toEqual({ ok: false, error: "over" });
    const again = await through(await begun(w, "mine"), "u1");
    expect(await endOidc(w.p.file, { ...w.provider, id: "other" }, again, "mine", w.now, guardedFetch)).toEqual({
      ok: false,
      error: "over",
    });
    const late = await through(await begun(w, "mine"), "u1");
    expect(await endOidc(w.p.file, w.provider, late, "mine", w.now + 11 * 60_000, guardedFetch)).toEqual({ ok: false, error: "over" });
    expect(await endOidc(w.p.file, w.provider, new URL(`${BACK}?code=x`), "mine", w.now, guardedFetch)).toEqual({
      ok: false,
      error: "over",
    });
    expect(await endOidc(testPortal({ grants: [] }).file, w.provider, late, "mine", w.now, guardedFetch)).toEqual({
      ok: false,
      error: "over",
    });
  });
  it("a code that was changed, and an error of the provider's, are refused", async () => {
    const w = world();
    const back = await through(await begun(w), "u1");
    back.searchParams.set("code", "made-up");
    expect(await endOidc(w.p.file, w.provider, back, "b", w.now, guardedFetch)).toEqual({ ok: false, error: "refused" });
    const url = await begun(w);
    const failed = new URL(`${BACK}?error=access_denied&state=${url.searchParams.get("state")}`);
    expect(await endOidc(w.p.file, w.provider, failed, "b", w.now, guardedFetch)).toEqual({ ok: false, error: "refused" });
  });
  it("one that does not answer keeps nobody for long", { timeout: 40_000 }, async () => {
    const w = world();
    idp.behave("hanging");
    const start = Date.now();
    const fresh = { ...w.provider, id: "never asked before" };
    expect(await beginOidc(w.p.file, fresh, { back: BACK, to: "/", browser: "b" }, w.now, guardedFetch)).toEqual({
      ok: false,
      error: "away",
    });
    expect(Date.now() - start).toBeLessThan(30_000);
  });
});

describe("whose account it is", () => {
  const who = (w: ReturnType<typeof world>, c: Partial<Claimed>) =>
    personOf(w.p.file, w.provider, { subject: "s", email: "dana@t.example", verified: true, ...c }, w.now);
  it("only by an e-mail that is verified, of a domain that the provider speaks for, of somebody who is here", () => {
    const w = world();
    for (const c of [
      { verified: false },
      { email: null },
      { email: "else@elsewhere.example" },
      { email: "nobody@t.example" },
      { email: "dana@sub.t.example" },
      { email: "dаna@t.example" },
      { email: "dana@t.example.evil.example" },
    ])
      expect(who(w, c)).toBeUndefined();
    expect(who(w, { email: "DANA@T.example" })).toBe(w.dana);
  });
  it("another provider's account of the same name is another account; a provider that is gone opens nothing", async () => {
    const w = world();
    expect(who(w, {})).toBe(w.dana);
    const other = addProvider(w.p.file, w.p.owner, {
      kind: "oidc",
      name: "Other",
      domains: ["o.example"],
      issuer: idp.origin,
      client: "x",
      secret: "",
    });
    const second = providerById(w.p.file, other.ok ? other.value.id : "")!;
    expect(personOf(w.p.file, second, { subject: "s", email: null, verified: false }, w.now)).toBeUndefined();
    removeProvider(w.p.file, w.p.owner, w.provider.id);
    expect([providersOf(w.p.file).length, w.p.file.db.prepare("SELECT count(*) FROM sys_outside").pluck().get()]).toEqual([1, 0]);
  });
  it("inactive people, and people whose roles ask for another door, are not let in by it", async () => {
    const w = world();
    keepDoors(w.p.file, w.p.owner, { ...AT_FIRST, open: ["password", "outside"], roles: { lead: { doors: ["password"], second: false } } });
    const inside = await comeIn(
      w.p.file,
      outsideDoor,
      { provider: w.provider, claimed: { subject: "u1", email: "dana@t.example", verified: true } },
      HERE,
      w.now,
    );
    expect(inside).toMatchObject({ ok: false, error: { code: "shut" } });
  });
  it("secrets are sealed; bad input is told beside its cause", () => {
    const w = world();
    expect(JSON.stringify(w.p.file.db.prepare("SELECT * FROM sys_providers").all())).not.toContain("s3cret");
    expect(secretOf(w.p.file, w.provider.id)).toBe("s3cret-of-the-client");
    const ok = { kind: "oidc", name: "N", domains: ["t.example"], issuer: "https://id.example", client: "c", secret: "" };
    for (const [bad, field] of [
      [{ ...ok, name: " " }, "name"],
      [{ ...ok, domains: [] }, "domains"],
      [{ ...ok, domains: ["@t.example"] }, "domains"],
      [{ ...ok, issuer: "http://id.example" }, "issuer"],
      [{ ...ok, issuer: "javascript:alert(1)" }, "issuer"],
      [{ ...ok, client: "" }, "client"],
      [{ kind: "saml", name: "N", domains: ["t.example"], metadata: "<a/>" }, "metadata"],
    ] as const)
      expect(addProvider(w.p.file, w.p.owner, bad)).toMatchObject({ ok: false, error: { field } });
  });
});

describe("SAML 2.0", () => {
  const places = {
    entity: "http://portal.localhost:3999/-/outside/x/metadata",
    consumer: "http://portal.localhost:3999/-/outside/x/consumer",
  };
  const asked = async (w: ReturnType<typeof world>, browser = "b") =>
    idp.askedIn((await beginSaml(w.p.file, w.provider, places, { to: "/signs", browser }, w.now)).searchParams.get("SAMLRequest")!);
  const consume = (w: ReturnType<typeof world>, response: string, now = w.now) => consumeSaml(w.p.file, w.provider, places, response, now);

  it("a signed assertion that answers our request leads the browser that began it in, once", async () => {
    const w = world("saml");
    const response = idp.samlResponse(PEOPLE[0]!, await asked(w));
    const done = await consume(w, response);
    if (!done.ok) throw new Error(done.error);
    expect(landSaml(w.p.file, w.provider, done.value.landing, "another's", w.now)).toEqual({ ok: false, error: "over" });
    expect(await consume(w, response)).toEqual({ ok: false, error: "refused" }); // replayed
    const second = await consume(w, idp.samlResponse(PEOPLE[0]!, await asked(w)));
    const landed = landSaml(w.p.file, w.provider, second.ok ? second.value.landing : "", "b", w.now);
    expect(landed).toEqual({ ok: true, value: { claimed: { subject: "u1", email: "dana@t.example", verified: true }, to: "/signs" } });
    expect(personOf(w.p.file, w.provider, landed.ok ? landed.value.claimed : { subject: "", email: null, verified: false }, w.now)).toBe(
      w.dana,
    );
  });
  it("unsigned, asked for by nobody, for another audience, or late: refused", async () => {
    const w = world("saml");
    idp.behave("unsigned");
    expect(await consume(w, idp.samlResponse(PEOPLE[0]!, await asked(w)))).toEqual({ ok: false, error: "refused" });
    idp.behave("honest");
    expect(await consume(w, idp.samlResponse(PEOPLE[0]!, { ...(await asked(w)), id: "_made-up" }))).toEqual({
      ok: false,
      error: "refused",
    });
    expect(await consume(w, idp.samlResponse(PEOPLE[0]!, { ...(await asked(w)), issuer: "http://another.example" }))).toEqual({
      ok: false,
      error: "refused",
    });
    expect(await consume(w, idp.samlResponse(PEOPLE[0]!, await asked(w)), w.now + 11 * 60_000)).toEqual({ ok: false, error: "refused" });
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
      const signed = Buffer.from(idp.samlResponse(PEOPLE[0]!, request), "base64").toString("utf8");
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
    expect(metadataIn(idp.metadata).ok).toBe(true);
    for (const bad of [
      "",
      "no xml <",
      `<!DOCTYPE x>${idp.metadata}`,
      idp.metadata.replace(/<ds:X509Certificate>[^<]*/, "<ds:X509Certificate>AAAA"),
      idp.metadata.replace("HTTP-Redirect", "HTTP-POST"),
      idp.metadata.replace(/Location="[^"]*"/, 'Location="http://id.example/sso"'),
    ])
      expect(metadataIn(bad).ok).toBe(false);
  });
});
