/** Bounces and "stop": what nobody asked for is kept back, what somebody asks for themselves still comes. */

import { describe, expect, it } from "vitest";
import { err, ok } from "@/core/result";
import { messageById, sendNow, write } from "@/data/messages/outbox";
import { stopOf } from "@/data/messages/stops";
import { freshLink } from "@/identity/secrets/links";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { answerDoor } from "./door";
import { saidOf } from "./said";
import { type Letter, sendMessage } from "./send";
import { isStopped, startMail, stopMail, stoppedBy, stopToken } from "./stop-mail";

ownFolder();

const EMAIL = "dana@t.example";
function dana() {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "projects" }] });
  const id = p.person("Dana", "Ash", "lead").viewer.person!.id;
  const { now } = p.owner;
  const invite = (): string =>
    write(p.file, {
      occasion: "invited",
      to: { personId: id, email: EMAIL },
      said: { ...saidOf(p.file, { name: "Dana", email: EMAIL }, now), by: "R", note: "" },
      link: freshLink(p.file, id, "invitation", now),
      by: "owner",
      now,
    });
  const sent: Letter[] = [];
  const send = (m: string, answer: "in" | "refused" | "shut out" = "in") =>
    sendMessage(
      p.file,
      m,
      false,
      async (letter) => {
        sent.push(letter);
        if (answer === "in") return ok(undefined);
        return answer === "refused"
          ? err({ when: "never" as const, address: true as const, message: "550 5.1.1 no such user" })
          : err({ when: "never" as const, message: "535 5.7.8 credentials invalid" });
      },
      () => now,
    );
  const state = (m: string) => messageById(p.file, m)?.state;
  return { p, id, now, invite, send, sent, state };
}

describe("mail that nobody asked for", () => {
  it("carries the way out of it, for the address it went to alone (RFC 8058)", async () => {
    const { p, invite, send, sent } = dana();
    await send(invite());
    const { headers, text } = sent[0]!;
    const address = /<(\S+)\/one-click>/.exec(headers!["List-Unsubscribe"]!)![1]!;
    expect(headers!["List-Unsubscribe-Post"]).toBe("List-Unsubscribe=One-Click");
    expect(text).toContain(address);
    const token = decodeURIComponent(address.split("/-/stop/")[1]!);
    expect(stoppedBy(p.file, token)).toBe(EMAIL);
    const forged = `${Buffer.from("ann@t.example").toString("base64url")}.${token.split(".")[1]}`;
    for (const t of [forged, token.slice(1), "", "x.y", stopToken("another portal", EMAIL)]) expect(stoppedBy(p.file, t)).toBeUndefined();
  });

  it("is kept back once somebody wants none, until they do; what they ask for comes all the same", async () => {
    const { p, id, now, invite, send, sent, state } = dana();
    const waiting = invite();
    stopMail(p.file, EMAIL, now);
    expect(await send(waiting)).toBe(false);
    const later = invite();
    expect([state(waiting), state(later), sent.length, isStopped(p.file, EMAIL)]).toEqual(["failed", "failed", 0, true]);
    expect(messageById(p.file, later)?.error).toBe("They want no such mail from this portal.");
    // Sent again by hand of the owner it stays kept back.
    sendNow(p.file, p.owner, [later]);
    expect([await send(later), sent.length]).toEqual([false, 0]);
    answerDoor(p.file, EMAIL, now);
    const asked = p.file.db.prepare("SELECT id FROM sys_messages WHERE occasion = 'door' AND person_id = ?").pluck().get(id) as string;
    expect([await send(asked), sent.at(-1)?.headers]).toEqual([true, undefined]);
    startMail(p.file, EMAIL, now);
    expect([await send(invite()), sent.length]).toEqual([true, 2]);
  });

  it("is kept back from an address that refused some for good, until anything arrives there", async () => {
    const { p, now, invite, send, state } = dana();
    // A server that lets nobody send says nothing of the address.
    await send(invite(), "shut out");
    expect(stopOf(p.file, EMAIL)).toBeUndefined();
    const first = invite();
    expect([await send(first, "refused"), state(first)]).toEqual([false, "failed"]);
    expect(stopOf(p.file, EMAIL)).toMatchObject({ kind: "bounce", reason: "550 5.1.1 no such user" });
    expect(state(invite())).toBe("failed");
    answerDoor(p.file, EMAIL, now);
    const asked = p.file.db.prepare("SELECT id FROM sys_messages WHERE occasion = 'door'").pluck().get() as string;
    expect(await send(asked)).toBe(true);
    expect(stopOf(p.file, EMAIL)).toBeUndefined();
    expect(state(invite())).toBe("waiting");
  });
});
