/** One contract, run against the stand-in and against SMTP as a server of its own speaks it. */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { MailChannel } from "./contract";
import { smtpMail } from "./smtp";
import { standInMail } from "./stand-in";

interface Arrived {
  id: string | undefined;
  to: string;
  subject: string | undefined;
  text: string;
}
const folder = mkdtempSync(join(tmpdir(), "elkhorn-mail-"));
const box: string[] = [];
const server = new SMTPServer({
  authOptional: true,
  disabledCommands: ["STARTTLS"],
  onRcptTo: ({ address }, _, done) => {
    const [code, words] = address.startsWith("gone@") ? [550, "no such box"] : [451, "try later"];
    const refused = address.startsWith("gone@") || address.startsWith("busy@");
    done(refused ? Object.assign(new Error(words), { responseCode: code }) : undefined);
  },
  onData: (stream, _, done) => {
    let text = "";
    stream.on("data", (d: Buffer) => (text += d.toString("utf8"))).on("end", () => done(null, void box.push(text) as never));
  },
});
let port = 0;
beforeAll(
  () =>
    new Promise<void>((done) =>
      server.listen(0, "127.0.0.1", () => done(void (port = (server.server.address() as { port: number }).port))),
    ),
);
afterAll(async () => {
  await new Promise<void>((done) => server.close(() => done()));
  rmSync(folder, { recursive: true });
});

const read = async (text: string): Promise<Arrived> => {
  const m = await simpleParser(text);
  return { id: m.messageId, to: [m.to].flat()[0]?.text ?? "", subject: m.subject, text: (m.text ?? "").trim() };
};
const FROM = "portals@agency.example";
const doors: [string, () => MailChannel, () => Promise<Arrived[]>][] = [
  [
    "the stand-in",
    () => standInMail(folder, FROM),
    async () => Promise.all(readdirSync(folder).map((f) => read(readFileSync(join(folder, f), "utf8")))),
  ],
  ["SMTP", () => smtpMail(`smtp://127.0.0.1:${port}`, FROM), () => Promise.all(box.map(read))],
];

describe.each(doors)("%s", (_, make, arrived) => {
  it("sends a message under the id that its key gives", async () => {
    const sent = await make().send({ to: "dana@x.example", subject: "Grüße, Dana", text: "Hello.\nTwo lines." }, "key-1");
    expect(sent).toEqual({ ok: true, value: { id: "<key-1@agency.example>" } });
    expect(await arrived()).toContainEqual({
      id: "<key-1@agency.example>",
      to: "dana@x.example",
      subject: "Grüße, Dana",
      text: "Hello.\nTwo lines.",
    });
  });
  it("a second try of the same key is the same message: receivers know it by its id", async () => {
    await make().send({ to: "dana@x.example", subject: "Again", text: "x" }, "key-2");
    await make().send({ to: "dana@x.example", subject: "Again", text: "x" }, "key-2");
    expect(new Set((await arrived()).filter((m) => m.subject === "Again").map((m) => m.id))).toEqual(new Set(["<key-2@agency.example>"]));
  });
  it("no header is smuggled in by a subject", async () => {
    await make().send({ to: "dana@x.example", subject: "A\r\nBcc: rafe@y.example", text: "x" }, "key-3");
    const [m] = (await arrived()).filter((x) => x.id === "<key-3@agency.example>");
    expect(m!.subject).toContain("Bcc: rafe@y.example");
    expect(m!.to).toBe("dana@x.example");
  });
  it("an address that is none is refused for good", async () =>
    expect(await make().send({ to: "nobody", subject: "x", text: "x" }, "key-4")).toMatchObject({ ok: false }));
  it("can tell that it works", async () => expect(await make().check()).toBeNull());
});

it("SMTP tells what is refused for good from what is worth another try", async () => {
  const smtp = smtpMail(`smtp://127.0.0.1:${port}`, FROM);
  expect(await smtp.send({ to: "gone@x.example", subject: "x", text: "x" }, "k")).toMatchObject({ error: { when: "never" } });
  expect(await smtp.send({ to: "busy@x.example", subject: "x", text: "x" }, "k")).toMatchObject({ error: { when: "later" } });
  const nobody = smtpMail("smtp://127.0.0.1:1", FROM);
  expect(await nobody.send({ to: "a@x.example", subject: "x", text: "x" }, "k")).toMatchObject({ error: { when: "later" } });
  expect(await nobody.check()).toContain("ECONNREFUSED");
});
