/** The work of each night: statistics for SQLite's planner, and removal of what is older than its stated age. */

import { rehearsalIn } from "@/data/file/clock";
import type { PortalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { sweepFiles } from "@/data/files/uploads";
import { sweepImportRows, sweepImports } from "@/data/imports/jobs";
import { thinTask } from "@/data/installation/night";
import { sweepRehearsals } from "@/data/installation/rehearsal";
import { eachPortal } from "@/data/installation/supervisor";
import { sweepJobs } from "@/data/jobs/queue";
import { sweepMessages } from "@/data/messages/outbox";
import { sweepAnswers } from "@/data/records/kept-answers";
import { BIN_DAYS, emptyBin } from "@/data/records/write/bin";
import { dropGoneColumns } from "@/data/tables/exchange-column";
import { sweepStaffSessions } from "@/identity/office/sessions";
import { sweepSessions } from "@/identity/sessions/sessions";
import { ownerViewer } from "@/identity/viewers/viewer";
import { sweepJoins } from "@/joining/joining";
import { SENT_DAYS, sweepSent } from "@/office/sources/back/queue";
import { sweepSends } from "@/webhooks/sends";
import { lookAtDomains } from "./domains";
import { log } from "./log";
import { sweepGivenUp, sweepReadings } from "./sweep-readings";

const DAY = 86_400_000;

/** Milliseconds for which each is kept after it ended. Records and money are kept for good; a bin says its own days, the log its owner's. */
const KEPT = {
  /** Files that no record took. */
  uploads: DAY,
  /** Rows of an import that was read and not brought in. */
  imports: 7 * DAY,
  /** What taking an import back needs. */
  takingBack: 90 * DAY,
  jobs: 30 * DAY,
  /** Readings of other systems. */
  readings: 90 * DAY,
  /** Letters that were sent or given up: what was said to whom can be looked up for a year. */
  letters: 365 * DAY,
} as const;

/** Who reads the log that leaves a portal at night. */
const NIGHT = { id: "night", name: "Elkhorn" };

/** All that is over in one portal; `now` in milliseconds. */
export async function tidyPortal(f: PortalFile, now: number): Promise<void> {
  f.db.pragma("optimize");
  sweepJoins(f, now);
  sweepSessions(f, now);
  sweepMessages(f, now - KEPT.letters);
  sweepJobs(f, now - KEPT.jobs);
  sweepSends(f, now);
  sweepAnswers(f, now);
  dropGoneColumns(f);
  emptyBin(f, new Date(now - BIN_DAYS * DAY).toISOString());
  await sweepFiles(f, new Date(now - KEPT.uploads).toISOString());
  sweepImports([f], now - KEPT.imports);
  sweepGivenUp(f, now - KEPT.imports);
  sweepReadings(f, now - KEPT.readings);
  sweepSent(f, now - SENT_DAYS * 86_400_000);
  sweepImportRows(f, new Date(now - KEPT.takingBack).toISOString());
}

export async function tidy(): Promise<void> {
  const one = async (f: PortalFile): Promise<void> => {
    await whenFree(f);
    await tidyPortal(f, Date.now());
    // A rehearsal is swept as a whole.
    if (!rehearsalIn(f)) await thinTask.do({ portal: f.slug }, ownerViewer(NIGHT, Date.now()));
  };
  await eachPortal(one, Date.now, (slug, err) => log().error({ err, portal: slug }, "the nightly work failed"));
  sweepStaffSessions(Date.now());
  sweepRehearsals(Date.now());
  await lookAtDomains(Date.now());
}
