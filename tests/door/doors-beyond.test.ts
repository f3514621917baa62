/** Passkeys with ChromeDriver's virtual authenticator, and an organisation's own sign-in by OpenID Connect and SAML, in a real browser. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { type StandInProvider, startProvider } from "../../scripts/provider.mjs";
import { answersOwnerAlone, catchActions, caughtActions, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { signInAt, signInToOffice } from "../support/people";
import { mailSays } from "../support/post";
import { freePort, ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const THEA = { sub: "t-1", name: "Thea", email: "thea@tarnmere.example" };
const GUEST = { sub: "t-2", name: "Locum Wray", email: "locum@tarnmere.example" };
let owner: Browser;
let b: Browser;
let idp: StandInProvider;
beforeAll(async () => {
  [owner, b] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(() => Promise.all([owner.close(), b.close(), idp?.stop()]));

it("a passkey is made inside, opens the door without a second step, and opens it no more once removed", { timeout: 120_000 }, async () => {
  await b.driver.sendDevToolsCommand("WebAuthn.enable", {});
  const options = {
    protocol: "ctap2",
    transport: "internal",
    hasResidentKey: true,
    hasUserVerification: true,
    isUserVerified: true,
    automaticPresenceSimulation: true,
  };
  await b.driver.sendDevToolsCommand("WebAuthn.addVirtualAuthenticator", { options });
  await signInAt(b, portal("/sign-in?to=/-/me"), "ines@fernhill.example");
  await b.press("Make a passkey");
  await b.seesText(/Made \d/);
  await b.press("Sign out");
  await b.go(portal("/sign-in?to=/-/me"));
  await catchActions(b);
  await b.press("A passkey");
  await b.seesText(/last used/);
  // The same signed answer does nothing a second time, here or from elsewhere.
  const posted = await caughtActions(b);
  expect(posted.length).toBeGreaterThan(0);
  const again = await post(port, posted.at(-1)!, "", "fernhill.localhost", "/sign-in");
  expect(again.text).toContain("This passkey opens no door here.");
  expect(String(again.headers["set-cookie"] ?? "")).not.toContain("elkhorn_");
  await b.click("[aria-label^='Remove: ']");
  await b.until(async () => !(await b.text()).includes("last used"));
  await b.press("Sign out");
  await b.go(portal("/sign-in"));
  await b.press("A passkey");
  await b.seesText("This passkey opens no door here.");
  await mailSays(data, "ines@fernhill.example", "you made a passkey.");
  await mailSays(data, "ines@fernhill.example", "you removed a passkey.");
});

it("OpenID Connect: who is here comes in by their organisation, back where they were going; who is not is told so", {
  timeout: 120_000,
}, async () => {
  const at = await freePort();
  await owner.go(office("/people/doors"));
  await catchActions(owner);
  await owner.click("//summary[normalize-space()='Register one']");
  await owner.type("#name", "Tarnmere");
  await owner.type("#domains", "@tarnmere.example");
  await owner.type("#issuer", `http://localhost:${at}`);
  await owner.type("#client", "elkhorn");
  await owner.type("#secret", "a-secret-of-the-client");
  await owner.press("Register it");
  await owner.seesText("Write domains such as client.example");
  await owner.type("#domains", "tarnmere.example");
  await owner.type("#secret", "a-secret-of-the-client");
  await owner.press("Register it");
  await owner.seesText("Speaks for");
  const back = /http:\S+\/-\/outside\/\S+\/back/.exec(await owner.text())![0];
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/people/doors", /"done":|"errors":/);
  // Before it answers at all: told, and nothing else waits.
  await b.go(portal("/sign-in?to=/projects"));
  // Who the agency's clients are is not for strangers: an address comes first.
  expect(await b.text()).not.toContain("Tarnmere");
  await b.type("#email", "somebody@elsewhere.example");
  await b.press("Your organisation");
  await b.seesText("No organisation's sign-in is set up for this address.");
  await b.type("#email", "thea@tarnmere.example");
  await b.press("Your organisation");
  // The owner's act was posted once more above: the domain has two, and is asked which.
  await b.click("//a[normalize-space()='Tarnmere']");
  await b.seesText("Their sign-in does not answer just now.");
  idp = await startProvider({
    port: at,
    name: "Tarnmere College",
    people: [THEA, GUEST],
    clients: [{ client_id: "elkhorn", client_secret: "a-secret-of-the-client", redirect_uris: [back] }],
  });
  const by = async (sub: string, to = "/projects"): Promise<void> => {
    await b.driver.sendDevToolsCommand("Network.clearBrowserCookies", {});
    await b.go(portal(`/sign-in?to=${to}`));
    await b.type("#email", "thea@tarnmere.example");
    await b.press("Your organisation");
    await b.click("//a[normalize-space()='Tarnmere']");
    await b.seesText("Whose account is it?");
    await b.click(`button[value='${sub}']`);
  };
  await by(THEA.sub);
  await b.until(async () => (await b.driver.getCurrentUrl()) === portal("/projects"));
  await b.seesText("Sign out");
  await by(GUEST.sub);
  await b.seesText("You are not known here by that account.");
  idp.behave("unverified");
  await by(GUEST.sub);
  await b.seesText("You are not known here by that account.");
  idp.behave("honest");
  // Never to another site, whatever is asked.
  await by(THEA.sub, "//evil.example");
  await b.until(async () => (await b.driver.getCurrentUrl()) === portal("/"));
});

it("SAML: by metadata that are pasted; an assertion that is not signed opens nothing", { timeout: 120_000 }, async () => {
  await owner.go(office("/people/doors"));
  await owner.click("//summary[normalize-space()='Register one']");
  await owner.click("input[name=kind][value=saml]");
  await owner.type("#name", "Tarnmere by SAML");
  await owner.type("#domains", "tarnmere.example");
  await owner.type("#metadata", idp.metadata);
  await owner.press("Register it");
  await owner.seesText("Tell it these metadata");
  const by = async (): Promise<void> => {
    await b.driver.sendDevToolsCommand("Network.clearBrowserCookies", {});
    await b.go(portal("/sign-in?to=/projects"));
    await b.type("#email", "thea@tarnmere.example");
    await b.press("Your organisation");
    await b.click("//a[normalize-space()='Tarnmere by SAML']");
    await b.seesText("Whose account is it?");
    await b.click(`button[value='${THEA.sub}']`);
  };
  await by();
  await b.until(async () => (await b.driver.getCurrentUrl()) === portal("/projects"));
  await b.seesText("Sign out");
  idp.behave("unsigned");
  await by();
  await b.seesText("Their sign-in did not say who you are in a way that counts here.");
  // What comes without having been asked for, from anywhere: nobody is let in, and nothing breaks.
  const place = /http:\S+(\/-\/outside\/\S+)\/metadata/.exec(await owner.text())![1]!;
  const c = new Client(port, "fernhill.localhost");
  const form = { headers: { "content-type": "application/x-www-form-urlencoded", origin: "http://evil.example" } };
  for (const raw of ["", "SAMLResponse=", "SAMLResponse=AAAA", `SAMLResponse=${"A".repeat(500_000)}`]) {
    const answer = await c.call("POST", `${place}/consumer`, { raw, ...form });
    expect([answer.status, answer.headers.location]).toEqual([303, `${portal("/sign-in")}?outside=refused`]);
  }
  expect((await c.get(`${place}/metadata`)).text).toContain("AssertionConsumerService");
  for (const path of ["/-/outside/nobody", "/-/outside/nobody/metadata", `${place}/back?code=x&state=y`, "/-/outside/nobody/land?t=x"])
    expect([path, (await c.get(path)).status]).toEqual([path, 404]);
  expect((await c.get(`${place}/land?t=made-up`)).headers.location).toContain("outside=over");
});
