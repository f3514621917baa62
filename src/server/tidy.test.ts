/** What grows for ever is kept to its age; what still counts stays, however old. */
import { expect, it } from "vitest";
import { outbox, write } from "@/data/messages/outbox";
import { freshLink } from "@/identity/secrets/links";
import { findSession, startSession } from "@/identity/sessions/sessions";
import { saidOf } from "@/letters/said";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { tidyPortal } from "./tidy";

ownFolder();
const DAY = 86_400_000;

function world() {
  const p = testPortal({ grants: [] });
  const dana = p.person("Dana", "One", "lead").viewer.person!.id;
  const { now } = p.owner;
  const count = (table: string): unknown => p.file.db.prepare(`SELECT count(*) FROM ${table}`).pluck().get();
  return { p, file: p.file, dana, now, count };
}

it("sessions that are over go, by whatever they ended; one in use stays", async () => {
  const { file, dana, now, count } = world();
  const used = startSession(file, dana, null, now - 20 * DAY);
  for (const day of [-15, -10, -5, -1]) expect(findSession(file, used, now + day * DAY)?.personId).toBe(dana);
  startSession(file, dana, null, now - 8 * DAY); // nobody used it for eight days
  startSession(file, dana, null, now - 40 * DAY); // past its thirty
  startSession(file, dana, null, now - DAY, "password", "second"); // the second step never came
  const fresh = startSession(file, dana, null, now);
  await tidyPortal(file, now);
  expect(count("sys_sessions")).toBe(2);
  expect([used, fresh].map((token) => findSession(file, token, now)?.personId)).toEqual([dana, dana]);
});

it("letters go a year after they were sent or given up; what is still to be sent stays", async () => {
  const { p, file, dana, now } = world();
  const letter = (madeAt: number, state: string): string => {
    const link = freshLink(file, dana, "invitation", madeAt);
    const said = { ...saidOf(file, { name: "Dana", email: "dana@t.example" }, madeAt), by: "Rosalind", note: "" };
    const id = write(file, {
      occasion: "invited",
      to: { personId: dana, email: "dana@t.example" },
      said,
      link,
      by: "staff:o",
      now: madeAt,
    });
    file.db.prepare("UPDATE sys_messages SET state = ? WHERE id = ?").run(state, id);
    return id;
  };
  const gone = ["sent", "failed"].map((state) => letter(now - 366 * DAY, state));
  const kept = [
    ...["ready", "waiting"].map((state) => letter(now - 366 * DAY, state)),
    ...["sent", "failed"].map((state) => letter(now - 364 * DAY, state)),
  ];
  await tidyPortal(file, now);
  const there = outbox(file, p.owner, { page: 1 }).list.map((m) => m.id);
  expect([gone.filter((id) => there.includes(id)), kept.filter((id) => !there.includes(id))]).toEqual([[], []]);
});

it("readings of other systems go after ninety days but for the latest, and imports that were given up after seven", async () => {
  const { file, now } = world();
  file.db.exec(`INSERT INTO sys_sources VALUES ('s', 'Records', 'address', '{}', '', 0);
    INSERT INTO sys_source_feeds (id, source_id, object, name) VALUES ('often', 's', 'o', 'Often'), ('once', 's', 'o', 'Once')`);
  const run = file.db.prepare("INSERT INTO sys_source_runs (feed_id, at, ended_at, state) VALUES (?, ?, ?, 'done')");
  for (const [feed, days] of [
    ["once", 400],
    ["often", 91],
    ["often", 89],
    ["often", 1],
  ] as const)
    run.run(feed, now - days * DAY, now - days * DAY);
  const made = file.db.prepare(
    "INSERT INTO sys_imports (id, file_name, state, total, good, bad, created_at) VALUES (?, 'x.csv', ?, 0, 0, 0, ?)",
  );
  for (const [id, state, days] of [
    ["old", "given up", 8],
    ["new", "given up", 6],
    ["in", "done", 400],
  ] as const)
    made.run(id, state, new Date(now - days * DAY).toISOString());
  await tidyPortal(file, now);
  const left = file.db.prepare("SELECT feed_id, (? - at) / ? AS days FROM sys_source_runs ORDER BY n").raw().all(now, DAY);
  expect(left).toEqual([
    ["once", 400],
    ["often", 89],
    ["often", 1],
  ]);
  expect(file.db.prepare("SELECT id FROM sys_imports ORDER BY id").pluck().all()).toEqual(["in", "new"]);
});
