/** Many portals in one process: a thousand made, two hundred used in turn; what is held open and in memory, and what opening again costs. */
import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { published } from "@/data/definition/published";
import { closeFiles, portalFile } from "@/data/file/open";
import { createPortal } from "@/data/installation/portals";
import { eachPortal } from "@/data/installation/supervisor";
import { hasJobs, releaseLeases } from "@/data/jobs/queue";
import { Desk } from "@/data/records/desk";
import { portalsListed } from "@/features/office/portals";
import { ownerViewer } from "@/identity/viewers/viewer";
import { PUBLISHER } from "@/testing/world";
import { median, print, round as rounded } from "./measure";

const PORTALS = 1_000;
const USED = 200;
const ms = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e6;

/** As a request does: the rules of the portal, and a list. */
function hit(slug: string): number {
  const from = process.hrtime.bigint();
  const file = portalFile(slug)!;
  file.meta.look();
  const desk = new Desk(file, published(file).policy, ownerViewer({ id: "o", name: "Owner" }, Date.now()));
  desk.list(desk.schema.companies, { limit: 50 });
  return ms(from);
}

export async function benchPortals(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-portals-"));
  const before = process.env.ELKHORN_DATA;
  process.env.ELKHORN_DATA = folder;
  const descriptors = (): number => readdirSync("/proc/self/fd").length;
  try {
    const rss = process.memoryUsage.rss();
    const fds = descriptors();
    for (let i = 0; i < PORTALS; i++) {
      const made = createPortal(`portal-${i}`, `Portal ${i}`, PUBLISHER);
      if ("problem" in made) throw new Error(made.problem);
      made.file.rest?.();
    }
    const [first, again]: number[][] = [[], []];
    let most = 0;
    for (let round = 0; round < 2; round++)
      for (let i = 0; i < USED; i++) {
        first!.push(hit(`portal-${i * 5}`));
        again!.push(hit(`portal-${i * 5}`));
        most = Math.max(most, descriptors());
        await new Promise((r) => setTimeout(r, 10)); // requests of a busy server come a few at a time
      }
    print({
      name: `${PORTALS} portals, ${USED} used in turn: memory`,
      value: rounded((process.memoryUsage.rss() - rss) / 1e6),
      unit: "MB more than at first",
      goal: "<= 400",
    });
    print({ name: "descriptors at most", value: most - fds, unit: "more than at first", goal: "<= 300" });
    print({
      name: "first hit of a closed portal",
      value: rounded(median(first!) - median(again!)),
      unit: `ms more (${rounded(median(again!))} ms)`,
      goal: "<= 15",
    });
    await benchWalk();
  } finally {
    closeFiles();
    process.env.ELKHORN_DATA = before;
    rmSync(folder, { recursive: true, force: true });
  }
}

/** What start, the five-minute run and the overview do with each portal: the longest that others wait meanwhile, beside nothing done. */
async function benchWalk(): Promise<void> {
  closeFiles();
  const idle = await longestWait(() => new Promise((r) => setTimeout(r, 1_000)));
  let took = 0;
  const walk = await longestWait(async () => {
    const from = process.hrtime.bigint();
    await eachPortal(
      (f) => {
        releaseLeases(f, Date.now());
        hasJobs(f);
      },
      Date.now,
      (slug, e) => {
        throw new Error(`${slug}: ${e}`);
      },
    );
    took = ms(from);
  });
  print({
    name: `longest wait beside the start with ${PORTALS} portals`,
    value: rounded(walk),
    unit: `ms (${rounded(idle)} ms idle)`,
    goal: "< 50",
  });
  print({ name: "the start itself, beside the first requests", value: rounded(took / 1_000), unit: "s", goal: "< 15" });
  const owner = ownerViewer({ id: "o", name: "Owner" }, Date.now());
  let listed = 0;
  const overview = await longestWait(async () => {
    const from = process.hrtime.bigint();
    await portalsListed(owner);
    listed = ms(from);
  });
  print({
    name: `longest wait beside the overview of ${PORTALS} portals`,
    value: rounded(overview),
    unit: `ms (${rounded(listed / 1_000)} s)`,
    goal: "< 50",
  });
}

/** Milliseconds. A timer that comes late was held up by so much. */
async function longestWait(work: () => Promise<void>): Promise<number> {
  let longest = 0;
  let last = performance.now();
  const timer = setInterval(() => {
    const now = performance.now();
    longest = Math.max(longest, now - last - 5);
    last = now;
  }, 5);
  await work();
  clearInterval(timer);
  return longest;
}
