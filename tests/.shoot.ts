import { writeFileSync } from "node:fs";
import { openBrowser } from "/work/main/tests/support/browser";
import { signInAt, signInToOffice } from "/work/main/tests/support/people";

const P = Number(process.env.PORT ?? 3100);
const steps = process.argv.slice(2);
const b = await openBrowser(Number(process.env.W ?? 1280), Number(process.env.H ?? 800));
try {
  for (const s of steps) {
    const [verb, ...rest] = s.split(" ");
    const a = rest.join(" ");
    if (verb === "in") {
      const [host, email] = a.split(" ");
      await signInAt(b, `http://${host}.localhost:${P}/sign-in`, email!);
    } else if (verb === "office") await signInToOffice(b, P);
    else if (verb === "go") await b.go(a.startsWith("http") ? a : `http://${a.replace("PORT", String(P))}`);
    else if (verb === "click") await b.click(a);
    else if (verb === "wait") await new Promise((r) => setTimeout(r, Number(a)));
    else if (verb === "type") {
      const [w, ...t] = rest;
      await b.type(w!, t.join(" "));
    } else if (verb === "full") {
      const h = await b.driver.executeScript<number>("return document.documentElement.scrollHeight");
      await b.size(Number(process.env.W ?? 1280), Math.min(h, 4000));
    } else if (verb === "shot") {
      await new Promise((r) => setTimeout(r, 300));
      writeFileSync(`/tmp/shots/${a}.png`, Buffer.from(await b.driver.takeScreenshot(), "base64"));
    }
  }
} finally {
  await b.close();
}
