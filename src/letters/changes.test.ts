/** A letter follows each event that its person hears of: to them alone, once, and to the address from before. */
import { expect, it } from "vitest";
import { type EventKind, kindsHeardBy } from "@/core/events/kinds";
import { EMAIL_FIELD } from "@/core/schema/types";
import { record } from "@/data/events/record";
import { attempt, refuse } from "@/data/file/attempt";
import { outbox } from "@/data/messages/outbox";
import { setEmail } from "@/data/people/people";
import { type TestPortal, testPortal } from "@/testing/portal";

const letters = (p: TestPortal) =>
  outbox(p.file, p.owner, { page: 1 }).list.map(({ occasion, email, body }) => ({ occasion, email, body }));

function portal() {
  const p = testPortal({ grants: [] });
  const dana = p.person("Dana", "One", "lead").viewer.person!.id;
  p.person("Rafe", "One", "lead");
  const happens = (kind: EventKind, more = {}) =>
    record(p.file, { actor: { kind: "person", id: dana }, via: "page", at: p.owner.now, kind, table: "t_people", record: dana, ...more });
  return { p, dana, happens };
}

it.each(kindsHeardBy("person"))("%s is told to that person, once, and to nobody else", (kind) => {
  const { p, happens } = portal();
  happens(kind);
  const sent = letters(p);
  expect(sent.map((l) => l.email)).toEqual(["dana@t.example"]);
  expect(sent[0]!.occasion).toBe(kind === "address-changed" ? "email-changed" : "doors-changed");
  expect(sent[0]!.body).toContain("Hello Dana,");
  expect(sent[0]!.body).not.toMatch(/[{}]/);
});

it("no other kind about a person sends them a letter", () => {
  const { p, happens } = portal();
  for (const kind of kindsHeardBy("agency")) happens(kind);
  expect(letters(p)).toEqual([]);
});

it("another address is told to the former one, which the log keeps beside the new", () => {
  const { p, dana } = portal();
  expect(setEmail(p.file, { kind: "person", id: dana }, dana, "dana@new.example", p.owner.now)).toBe(true);
  expect(letters(p)).toMatchObject([{ occasion: "email-changed", email: "dana@t.example" }]);
  const kept = p.file.db.prepare("SELECT before, after FROM sys_event_values ORDER BY event_id DESC LIMIT 1").get();
  expect(kept).toEqual({
    before: JSON.stringify({ [EMAIL_FIELD]: "dana@t.example" }),
    after: JSON.stringify({ [EMAIL_FIELD]: "dana@new.example" }),
  });
});

it("of what was rolled back nobody is told, nor of somebody who is gone", () => {
  const { p, happens } = portal();
  attempt(p.file, () => {
    happens("passkey-made");
    refuse("changed my mind");
  });
  happens("passkey-made", { record: "nobody" });
  expect(letters(p)).toEqual([]);
});
