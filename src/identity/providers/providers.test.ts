/**
 * Providers of identity, against `oidc-provider` (a certified OpenID provider): who is known by them, and what a provider that lies, repeats
 * or hangs reaches.
 */
import * as oidc from "openid-client";
import { describe, expect, it } from "vitest";
import { guardedFetch } from "@/services/outside/guarded";
import { BACK, organisation, through, withOrganisation, world } from "@/testing/organisation";
import { testPortal } from "@/testing/portal";
import { outsideDoor } from "../doors/outside";
import { AT_FIRST, keepDoors } from "../doors/settings";
import { comeIn } from "../entering/enter";
import { beginOidc, endOidc } from "./oidc";
import { addProvider, type Claimed, personOf, providerById, providersOf, removeProvider, secretOf } from "./providers";

const HERE = { address: "192.0.2.1", device: null };
withOrganisation();

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
    organisation.idp.behave("hanging");
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
      issuer: organisation.idp.origin,
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
