/** Joining as a company, waiting, and looking after one's company, through the real pages. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { Client, signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { mailComes, mailTo } from "../support/post";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const office = (path: string): string => `http://localhost:${port}/portals/fernhill${path}`;
const portal = (path: string): string => `http://fernhill.localhost:${port}${path}`;
const WREN = "wren@newcomer.example";
const joinLink = (mail: string): string => /https?:\/\/\S+\/-\/join\/\S+/.exec(mail)![0];
let owner: Browser;
let b: Browser;
beforeAll(async () => {
  [owner, b] = await Promise.all([openBrowser(), openBrowser()]);
  await signInToOffice(owner, port);
});
afterAll(() => Promise.all([owner.close(), b.close()]));

it("the owner opens joining, with terms and approval; nobody else can, and without it there is no page", { timeout: 120_000 }, async () => {
  await owner.go(office("/people/joining"));
  await catchActions(owner);
  await owner.click("input[name=who][value=nobody]");
  await owner.click("(//button[normalize-space()='Keep'])[1]");
  await owner.seesText("Kept. It counts from now on.");
  const stranger = new Client(port, "fernhill.localhost");
  expect([(await stranger.get("/-/join")).status, (await stranger.get("/sign-in")).text.includes("/-/join")]).toEqual([404, false]);
  await owner.click("input[name=who][value=domains]");
  await owner.type("#domains", " ");
  await owner.click("(//button[normalize-space()='Keep'])[1]");
  await owner.seesText("Name the domains whose people may join.");
  await owner.click("input[name=who][value=anybody]");
  await owner.choose("#lead", { begins: "Lead" });
  await owner.type("#terms", "Proofs are answered within a week.");
  await owner.click("(//button[normalize-space()='Keep'])[1]");
  await owner.seesText("Kept. It counts from now on.");
  await owner.type("#seats", "2");
  await owner.click("(//button[normalize-space()='Keep'])[2]");
  await owner.until(async () => (await owner.count("[role=status]")) > 1);
  await answersOwnerAlone(port, owner, await caughtActions(owner), "/portals/fernhill/people/joining", /"done":|"errors":/);
});

it("joins as a company: nothing before the link; then they wait, see what for, and are told by mail", { timeout: 120_000 }, async () => {
  await b.go(portal("/sign-in"));
  await b.press("Not here yet? Join");
  await b.type("#name", "Wren Alder");
  await b.type("#email", WREN);
  await b.click("main button[type=submit]");
  await b.seesText("Write the company's name");
  await b.seesText("Read the terms, and say that you agree to them.");
  await b.type("#company", "Alder Boatyard");
  await b.click("input[name=terms]");
  await b.click("main button[type=submit]");
  await b.seesText("If wren@newcomer.example can be used here, a link is on its way to it.");
  const mail = await mailComes(data, WREN);
  await owner.go(office("/people?q=Wren"));
  expect(await owner.text()).not.toContain(WREN);
  await b.go(joinLink(mail));
  await b.press("Join as Wren Alder");
  await b.seesText("You wait for approval");
  // Everything else leads back here; the API answers as to a stranger.
  await b.go(portal("/projects"));
  await b.seesText("You wait for approval");
  await owner.go(office("/people/waiting"));
  await owner.seesText("joins as a company: Alder Boatyard");
  await owner.seesText(/agreed to version \d of the terms/);
  const had = mailTo(data, WREN).length;
  await owner.click("[aria-label='Approve Wren Alder']");
  await owner.until(async () => !(await owner.text()).includes(WREN));
  expect(await mailComes(data, WREN, had)).toContain("is open to you now");
  await b.go(portal("/-/company"));
  await b.seesText("Alder Boatyard");
  await b.seesText("1 of 2 seats are taken");
});

it("a lead invites within the seats; another company, a member and a stranger reach nothing of it", { timeout: 120_000 }, async () => {
  await b.type("#name", "Nia Alder");
  await b.type("#email", "nia@newcomer.example");
  await catchActions(b);
  await b.press("Invite them");
  await b.seesText("An invitation for nia@newcomer.example is on its way.");
  expect(await mailComes(data, "nia@newcomer.example")).toContain("/link/");
  await b.type("#name", "Third");
  await b.type("#email", "third@newcomer.example");
  await b.press("Invite them");
  await b.seesText("All 2 seats of your company are taken.");
  const stranger = new Client(port, "fernhill.localhost");
  expect([(await stranger.get("/-/company")).status, (await stranger.get("/-/waiting")).status]).toEqual([307, 307]);
  const ines = await signedIn(port, "ines@fernhill.example");
  expect((await ines.get("/-/company")).status).toBe(404);
});
