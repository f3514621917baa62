/** What begins with the process: settings are checked, jobs run, and the end is prepared. */
import { Cron } from "croner";
import { ConfigError, config } from "@/config";
import { POLICY_INDEXES, policyIndexesTask } from "@/data/definition/policy-indexes";
import { timeIn } from "@/data/file/clock";
import { closeFiles, type PortalFile } from "@/data/file/open";
import { once } from "@/data/file/per-process";
import { whenFree } from "@/data/file/when-free";
import { keepContentsIn } from "@/data/files/store";
import { checkReceived } from "@/data/imports/jobs";
import { eachPortal } from "@/data/installation/supervisor";
import { hasJobs, type Job, MOST_TRIES, onNewJob, releaseLeases } from "@/data/jobs/queue";
import { Never, Runner } from "@/data/jobs/runner";
import { SEND } from "@/data/messages/outbox";
import { endAccounts } from "@/data/people/account";
import { INDEX, indexTask, type Wish } from "@/data/records/query/follow";
import { hasBooks } from "@/data/tables/books-tables";
import { runIn } from "@/data/threads";
import { sweepExports } from "@/features/api/export-task";
import { payingOf } from "@/features/pay/here";
import { runBilling } from "@/features/pay/run";
import { needsOwner, setupCode } from "@/identity/office/setup";
import { answerJoin, JOIN } from "@/joining/joining";
import { type AskedFor, answerDoor, DOOR } from "@/letters/door";
import { sendMessage } from "@/letters/send";
import { settleBy } from "@/office/settle-due";
import { WRITE_BACK } from "@/office/sources/back/queue";
import { sendDue } from "@/office/sources/back/send";
import { READ_SOURCE } from "@/office/sources/feeds";
import { READING, SENDING } from "@/office/sources/reading";
import { readFeed } from "@/office/sources/run";
import { TELLING } from "@/office/telling";
import { folderFiles } from "@/services/files/folder";
import { mailOf } from "@/services/mail";
import type { Mail } from "@/services/mail/contract";
import { smsOf } from "@/services/sms";
import { tellDue } from "@/webhooks/tell";
import { TELL } from "@/webhooks/wake";
import { feedEvents } from "./feeds";
import { log } from "./log";
import { Threads } from "./threads/thread";
import { tidy } from "./tidy";

async function readIt(file: PortalFile, job: Job): Promise<void> {
  const { feed, now } = job.body as { feed: string; now?: boolean };
  await readFeed(file, feed, now === true, READING);
}

export async function begin(): Promise<void> {
  feedEvents();
  try {
    config();
  } catch (e) {
    if (!(e instanceof ConfigError)) throw e;
    console.error(`Elkhorn does not start: a setting is wrong.\n${e.message}`);
    process.exit(1);
  }
  const { files: kept } = config();
  keepContentsIn(kept === "folder" ? folderFiles : (await import("@/services/files/bucket")).bucketAt(kept)); // only who has such storage needs it
  sweepExports();
  const worker = once("thread file", () => "");
  const threads = worker ? once("thread pool", () => new Threads(worker)) : null;
  if (threads) runIn(threads.run);
  const runner = once("runner", () => makeRunner());
  // Beside the others: a receiver that is slow holds up no import and no letter.
  const telling = once("telling", () => new Runner({ [TELL]: async (file) => void (await tellDue(file, TELLING)) }, Date.now, jobFailed));
  const reading = once("reading", () => new Runner({ [READ_SOURCE]: readIt }, Date.now, jobFailed));
  // Beside the readings: what people changed does not wait for a long one.
  const sending = once("sending", () => new Runner({ [WRITE_BACK]: (file) => sendDue(file, SENDING) }, Date.now, jobFailed));
  onNewJob(sending.wake);
  onNewJob(reading.wake);
  onNewJob(runner.wake);
  onNewJob(telling.wake);
  const failed = (what: string) => (slug: string, err: unknown) => log().error({ err, portal: slug }, `${what} failed`);
  // Beside the first requests: with very many portals it takes a while.
  void eachPortal(
    (f) => {
      releaseLeases(f, Date.now());
      if (!hasJobs(f)) return;
      runner.wake(f);
      telling.wake(f);
      reading.wake(f);
      sending.wake(f);
    },
    Date.now,
    failed("taking up work"),
  );
  settleBy((f) => runBilling(f, payingOf(f), () => timeIn(f, Date.now())));
  const daily = once(
    "days that end",
    () =>
      new Cron("*/5 * * * *", { unref: true, catch: (err) => log().error({ err }, "ending accounts failed") }, async () => {
        const work = async (f: PortalFile): Promise<void> => {
          await whenFree(f);
          endAccounts(f, Date.now());
          if (hasBooks(f)) await runBilling(f, payingOf(f), () => timeIn(f, Date.now()));
        };
        await eachPortal(work, Date.now, failed("what falls due"));
      }),
  );
  const nightly = once(
    "nightly",
    () => new Cron("15 3 * * *", { unref: true, catch: (err) => log().error({ err }, "the nightly work failed") }, tidy),
  );
  once("at the end", () => async () => {
    daily.stop();
    nightly.stop();
    const stopped = Promise.all([runner.stop(), telling.stop(), reading.stop(), sending.stop()]);
    await threads?.end();
    await stopped;
    closeFiles();
  });
  if (needsOwner())
    console.error(
      `\nNobody can sign in yet. Open ${config().address.origin} and make the owner's account with this code: ${setupCode()}\n`,
    );
}

const jobFailed = (err: unknown, job: Job | null): void =>
  log().error({ err, job: job?.id, kind: job?.kind, tries: job?.tries }, "a job failed");

function makeRunner(): Runner {
  const mail = mailOf(config());
  const sms = smsOf(config());
  return new Runner(
    {
      "check import": (file, job) => checkReceived(file, (job.body as { id: string }).id),
      [POLICY_INDEXES]: async (file) => void (await policyIndexesTask.do({ portal: file.slug })),
      [INDEX]: (file, job) => indexTask.do({ portal: file.slug, wish: job.body as Wish }),
      [SEND]: async (file, job) => {
        const { id } = job.body as { id: string };
        await sendMessage(
          file,
          id,
          job.tries >= MOST_TRIES,
          (letter, key) => (letter.channel === "sms" ? sms : mail).send(letter, key),
          Date.now,
        );
      },
      [DOOR]: async (file, job) => {
        const { email, at, what, asked, anew } = job.body as { email: string; at: number; what?: AskedFor; asked?: string; anew?: boolean };
        answerDoor(file, email, at, what, { asked: asked ?? null, anew: anew === true });
      },
      [JOIN]: async (file, job) => answerJoin(file, (job.body as { id: string }).id, timeIn(file, Date.now())),
      mail: async (_, job) => {
        const sent = await mail.send(job.body as Mail, job.id);
        if (sent.ok) return;
        throw sent.error.when === "never" ? new Never(sent.error.message) : new Error(sent.error.message);
      },
    },
    Date.now,
    jobFailed,
  );
}
