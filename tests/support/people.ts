/** Signing in through the real forms. */
import type { Browser } from "./browser";

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

/** Signs in to the back office again in another window, as somebody does whose session ended under an open form. */
export async function signInBeside(b: Browser, port: number): Promise<void> {
  const here = await b.driver.getWindowHandle();
  await b.driver.switchTo().newWindow("tab");
  await signInToOffice(b, port);
  await b.driver.close();
  await b.driver.switchTo().window(here);
}
