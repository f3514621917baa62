/** The doors beside the password, each in a real browser: codes by mail and SMS, and the second step after any of them. */
import { Secret, TOTP } from "otpauth";
import { afterAll, beforeAll, expect, it } from "vitest";
import { PEOPLE } from "@/demo/cast";
import { answersOwnerAlone, catchActions, caughtActions, holdActions, post } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { leave, signInAt, signInToOffice } from "../support/people";
import { codeIn, mailComes, mailSays, smsComes } from "../support/post";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const INES = "ines@fernhill.example";
const INES_NUMBER = `+441632960${100 + PEOPLE.findIndex((p) => p.name.startsWith("Ines"))}`;
let owner: Browser;
let b: Browser;
beforeAll(async () => {
  [owner, b] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(() => Promise.all([owner.close(), b.close()]));

const cookiesOf = async (of: Browser): Promise<string> =>
  (await of.driver.manage().getCookies()).map((c) => `${c.name}=${c.value}`).join("; ");

it("a code by mail opens the door, the page asked for too; a wrong one says so and nothing is lost", { timeout: 120_000 }, async () => {
  await b.go(portal("/-/me"));
  await b.type("#email", INES);
  await b.press("A code by mail");
  await b.seesText("a code of six digits is on its way");
  const code = codeIn(await mailComes(data, INES));
  await b.type("#code", code === "000 000" ? "111111" : "000000");
  await b.press("Go in");
  await b.seesText("This code is not right, or it is over.");
  await b.type("#code", code);
  await b.press("Go in");
  await b.seesText("Where you are signed in");
  await b.press("Sign out");
});

it("the owner shuts the door of SMS and opens it; nobody else can", { timeout: 120_000 }, async () => {
  await owner.go(office("/people/doors"));
  await catchActions(owner);
  await owner.click("input[value='password'][name=open]");
  for (const id of ["link", "mail-code", "sms-code", "outside"]) await owner.click(`input[value='${id}'][name=open]`);
  await owner.press("Keep");
  await owner.seesText("Leave one door open that people can begin at");
  await owner.go(office("/people/doors"));
  await catchActions(owner);
  await owner.click("input[value='sms-code'][name=open]");
  await owner.press("Keep");
  await owner.seesText("It counts from the next sign-in on.");
  await b.go(portal("/sign-in"));
  expect(await b.text()).not.toContain("A code by SMS");
  await owner.go(office("/people/doors"));
  await catchActions(owner);
  await owner.click("input[value='sms-code'][name=open]");
  await owner.press("Keep");
  await owner.seesText("It counts from the next sign-in on.");
  const asked = await caughtActions(owner);
  await b.go(portal("/sign-in"));
  await b.type("#email", INES);
  await b.press("A code by SMS");
  await b.seesText("the telephone that goes with it");
  await b.type("#code", codeIn(await smsComes(data, INES_NUMBER)));
  await b.press("Go in");
  await b.seesText("Sign out");
  await answersOwnerAlone(port, owner, asked, "/portals/fernhill/people/doors", /"done":|"errors":/);
});

it("a second factor: set up, asked for after the password, worth nothing twice, and off by who has it", { timeout: 120_000 }, async () => {
  await leave(b);
  await signInAt(b, portal("/sign-in"), INES);
  await b.go(portal("/-/me"));
  await b.press("Set up an authenticator");
  await b.seesText("Scan this with an authenticator");
  const secret = (await b.find("main code").then((e) => e.getText())).replaceAll(" ", "");
  const now = (ahead = 0): string => new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + ahead });
  await b.type("#second-code", "12345");
  await b.press("Turn it on");
  await b.seesText("This code is not right");
  await b.type("#second-code", now());
  await b.press("Turn it on");
  await b.seesText("Keep these recovery codes");
  const recovery = await b.texts("main ul.font-mono li");
  expect(recovery.length).toBe(10);
  await b.press("I have kept them");
  await b.seesText("10 recovery codes are left");
  await b.press("Sign out");
  await signInAt(b, portal("/sign-in?to=/-/me"), INES);
  await b.seesText("Write the code that your authenticator shows now");
  // Half in is not in: pages, lists and the API answer as to a stranger, and no password is changed from here.
  const half = new Client(port, "fernhill.localhost");
  half.cookie = await cookiesOf(b);
  expect((await half.get("/api/v1/me")).status).toBe(401);
  expect((await half.get("/new-password")).status).toBe(307);
  expect((await half.get("/")).headers.location).toContain("/-/second");
  await b.type("#code", "000000");
  await b.press("Go on");
  await b.seesText("This code is not right");
  await b.type("#code", recovery[0]!);
  await b.press("Go on");
  await b.seesText("9 recovery codes are left");
  expect(half.cookie).not.toBe(await cookiesOf(b)); // another token
  expect((await half.get("/api/v1/me")).status).toBe(401);
  // By the API the second step goes with the first.
  const api = new Client(port, "fernhill.localhost");
  const body = { email: INES, password: "ines-reads-every-sign" };
  expect((await api.call("POST", "/api/v1/session", { body })).json.detail).toContain("send the code");
  expect((await api.call("POST", "/api/v1/session", { body: { ...body, code: recovery[0]! } })).status).toBe(401);
  expect((await api.call("POST", "/api/v1/session", { body: { ...body, code: recovery[1]! } })).status).toBe(200);
  await b.click("//summary[normalize-space()='Turn it off']");
  await b.type("#code", recovery[2]!);
  await b.click("//button[normalize-space()='Turn it off']");
  await b.seesText("Beside what you come in with");
  await mailSays(data, INES, "you turned a second factor on.");
  await mailSays(data, INES, "you turned the second factor off.");
});

it("the agency signs somebody out, at once; nobody else does by posting the same", { timeout: 120_000 }, async () => {
  const mine = new Client(port, "fernhill.localhost");
  mine.cookie = await cookiesOf(b);
  const me = (await mine.get("/api/v1/me")).json.person.id as string;
  const page = `/portals/fernhill/people/${me}`;
  await owner.go(`http://localhost:${port}${page}`);
  await owner.seesText("Where they are signed in");
  await holdActions(owner);
  await owner.press("Sign Ines out everywhere");
  await owner.until(async () => (await caughtActions(owner)).length === 1);
  const [asked] = await caughtActions(owner);
  for (const [cookie, host, path] of [
    ["", "localhost", page],
    [mine.cookie, "localhost", page],
    [mine.cookie, "fernhill.localhost", "/"],
  ] as const)
    await post(port, asked!, cookie, host, path);
  expect((await mine.get("/api/v1/me")).status).toBe(200);
  await post(port, asked!, await cookiesOf(owner), "localhost", page);
  expect((await mine.get("/api/v1/me")).status).toBe(401);
});
