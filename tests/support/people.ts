/** Signing in through the real forms. */
import type { Browser } from "./browser";
import { signedIn } from "./client";
import { mailComes } from "./post";

export async function signInAt(
  b: Browser,
  url: string,
  email: string,
  password = `${email.split("@")[0]}-reads-every-sign`,
): Promise<void> {
  await b.go(url);
  await b.type("#email", email);
  await b.type("#password", password);
  await b.press("Sign in");
  await b.until(async () => !(await b.driver.getCurrentUrl()).includes("/sign-in"), `${email} stayed at the sign-in form`);
}

export const signInToOffice = (b: Browser, port: number): Promise<void> =>
  signInAt(b, `http://localhost:${port}/sign-in`, "rosalind@fernhill.example", "rosalind-keeps-the-keys");

/** The page that is open stays as it is meanwhile. */
export async function inAnotherTab(b: Browser, what: () => Promise<void>): Promise<void> {
  const here = await b.driver.getWindowHandle();
  await b.driver.switchTo().newWindow("tab");
  await what();
  await b.driver.close();
  await b.driver.switchTo().window(here);
}

/** Signs in to the back office again in another window, as somebody does whose session ended under an open form. */
export const signInBeside = (b: Browser, port: number): Promise<void> => inAnotherTab(b, () => signInToOffice(b, port));

/** Signs in as a program would and hands the session to the browser: for stories that are not about the door. */
export async function enter(b: Browser, port: number, email: string): Promise<void> {
  await leave(b);
  for (const pair of (await signedIn(port, email)).cookie.split("; ")) {
    const [name, value] = pair.split("=") as [string, string];
    await b.driver.sendDevToolsCommand("Network.setCookie", { name, value, url: `http://fernhill.localhost:${port}/`, httpOnly: true });
  }
}

export const leave = (b: Browser): Promise<unknown> => b.driver.sendDevToolsCommand("Network.clearBrowserCookies", {}) as Promise<unknown>;

/** A story begins with the rules as they are published: what another drafted is thrown away. */
export async function withoutDraft(b: Browser, port: number): Promise<void> {
  await b.go(`http://localhost:${port}/portals/fernhill/publish`);
  if (!(await b.text()).includes("Throw the draft away")) return;
  await b.press("Throw the draft away");
  await b.seesText("there is no draft beside it");
}

interface NewStaff {
  readonly name: string;
  readonly email: string;
  /** As it is called in the office. */
  readonly role: string;
  readonly password: string;
}

/** Asked in by an owner, and in: `b` is theirs afterwards. Answers the link that they came by. */
export async function newStaff(owner: Browser, b: Browser, office: (path: string) => string, data: string, who: NewStaff): Promise<string> {
  await owner.go(office("/-/staff"));
  await owner.type("#name", who.name);
  await owner.type("#email", who.email);
  await owner.choose("#new-role", who.role);
  await owner.press("Send a link");
  await owner.seesText(`A link is on its way to ${who.email}.`);
  const link = /https?:\S+\/-\/staff\/\S+/.exec(await mailComes(data, who.email))![0];
  await b.go(link);
  await b.type("#password", who.password);
  await b.press("Go in");
  await b.seesText("Your portals");
  return link;
}
