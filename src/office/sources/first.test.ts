/** The first rows of another system: how far they are, paused, stopped half way, and whole in the end. */
import { beforeEach, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { err, ok } from "@/core/result";
import { once } from "@/data/file/per-process";
import { importJob } from "@/data/imports/jobs";
import { seal } from "@/identity/secrets/secrets";
import { later, type SourceTrouble, Troubled } from "@/services/sources/contract";
import { ImportTrial, importFolder, owner } from "@/testing/import-folder";
import { addFeed, type Feed, feedById, pauseFeed, READ_SOURCE, type Run, runsOf } from "./feeds";
import { fetchFirst, type Reading } from "./first";
import { sourceById } from "./sources";

importFolder();

const PIECES = 4;
const EACH = 250;
let t: ImportTrial;
let feed: string;
let trouble: SourceTrouble | null;
/** After how many pieces the other system waits, and what ends its waiting. */
let waits: number | null;
let goOn: () => void;

const reading: Reading = {
  adapter: () => ({
    name: "Test",
    about: "",
    fields: [],
    objects: async () => ok([]),
    read: async () => {
      if (trouble) return err(trouble);
      async function* pieces() {
        for (let p = 0; p < PIECES; p++) {
          if (p === waits) await new Promise<void>((done) => (goOn = done));
          yield Array.from({ length: EACH }, (_, i) => [`T-${p * EACH + i}`, `Thing ${i}`]);
        }
      }
      return ok({
        fileName: "things.csv",
        header: ["id", "name"],
        pieces: pieces(),
        key: "id",
        whole: true,
        end: () => ({ mark: "m", gone: [] }),
      });
    },
  }),
  owner: () => owner as Owner,
  tellStaff: () => {},
  sendFirst: async () => {},
  now: () => owner.now,
};

beforeEach(() => {
  t = new ImportTrial();
  [trouble, waits] = [null, null];
  t.file.db
    .prepare("INSERT INTO sys_sources (id, name, kind, settings, secret, made_at) VALUES ('s', 'Records', 'ledger', '{}', ?, 0)")
    .run(seal(t.file.id, "source", "{}"));
  feed = addFeed(t.file, "s", { id: "things", name: "Things" });
});

const now = (): Feed => feedById(t.file, feed)!;
const run = (): Run => runsOf(t.file, feed)[0]!;
const fetchIt = (): Promise<void> => fetchFirst(t.file, sourceById(t.file, "s")!, now(), reading);
const jobs = (): unknown[] => t.file.db.prepare("SELECT body FROM sys_jobs WHERE kind = ? AND state = 'waiting'").pluck().all(READ_SOURCE);
const all = (): number => importJob(t.file, owner, now().importId!)!.analysis.rows;

it("says how far it is while the rows come, and hands all of them over to be mapped", async () => {
  waits = 2;
  const done = fetchIt();
  await expect.poll(() => run()).toMatchObject({ state: "running", added: 2 * EACH });
  goOn();
  await done;
  expect([run().state, all(), now().ownKey]).toEqual(["done", PIECES * EACH, "id"]);
});

it("paused, it ends at the next piece and keeps none; resumed, it comes whole", async () => {
  waits = 2;
  const done = fetchIt();
  await expect.poll(() => run().added).toBe(2 * EACH);
  pauseFeed(t.file, owner, feed, true);
  goOn();
  await done;
  expect(run()).toMatchObject({ state: "failed", message: "It was paused before all had come." });
  expect([now().importId, t.file.db.prepare("SELECT count(*) FROM sys_imports").pluck().get()]).toEqual([null, 0]);
  await fetchIt();
  expect(runsOf(t.file, feed).length).toBe(1);
  pauseFeed(t.file, owner, feed, false);
  expect(jobs().length).toBe(1);
  waits = null;
  await fetchIt();
  expect([run().state, all()]).toEqual(["done", PIECES * EACH]);
});

it("stopped half way, as by a kill, it begins again and no row comes twice", async () => {
  waits = 2;
  // Of the process that ended, nothing more is heard.
  void fetchIt().catch(() => {});
  await expect.poll(() => run().added).toBe(2 * EACH);
  waits = null;
  await fetchIt();
  expect(runsOf(t.file, feed).map((r) => [r.state, r.message])).toEqual([
    ["done", "Its rows are here: map its columns."],
    ["failed", "It was stopped half way, and has begun again."],
  ]);
  expect([all(), t.file.db.prepare("SELECT count(*) FROM sys_imports").pluck().get()]).toEqual([PIECES * EACH, 1]);
});

it("at the end of the process it breaks off, and its job is done again by the next", async () => {
  waits = 2;
  const ending = once("ending", () => ({ is: false }));
  const done = fetchIt();
  await expect.poll(() => run().added).toBe(2 * EACH);
  ending.is = true;
  await expect(done).rejects.toMatchObject({ code: "THREAD_ENDED" });
  ending.is = false;
  expect(run()).toMatchObject({ state: "failed", message: "Elkhorn was stopped meanwhile. It begins again." });
  expect(now().importId).toBeNull();
});

it("what goes wrong there is said, before the rows and among them", async () => {
  trouble = later("records.example answered 503.");
  await fetchIt();
  expect(run()).toMatchObject({ state: "failed", message: "records.example answered 503." });
  trouble = null;
  const breaks: Reading = {
    ...reading,
    adapter: (s) => ({
      ...reading.adapter(s),
      read: async () => {
        async function* pieces() {
          yield [["T-1", "Thing"]];
          throw new Troubled(later("records.example left out 3 of 4 rows."));
        }
        const end = () => ({ mark: null, gone: [] });
        return ok({ fileName: "things.csv", header: ["id", "name"], pieces: pieces(), key: "id", whole: true, end });
      },
    }),
  };
  await fetchFirst(t.file, sourceById(t.file, "s")!, now(), breaks);
  expect([run().message, now().importId]).toEqual(["records.example left out 3 of 4 rows.", null]);
});
