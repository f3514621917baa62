/** Those who took part in a conversation are told by mail that somebody wrote in it. */
import { type HeardBy, kindsHeardBy } from "@/core/events/kinds";
import { allPagesIn } from "@/core/pages/all-pages";
import type { Table } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import type { Feed } from "@/data/events/feeds";
import type { PortalFile } from "@/data/file/open";
import { write, writtenSince } from "@/data/messages/outbox";
import { membershipsOf, personFacts } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { whoTalked } from "@/data/records/talk";
import { portalAddress } from "@/identity/requests/addresses";
import { personViewer } from "@/identity/viewers/viewer";
import { saidOf } from "./said";

/** Milliseconds. As often as this somebody is told that they were written to: nobody fills another's mail box. */
const TOLD_AGAIN_MS = 5 * 60_000;
const MOST_TOLD = 50;

/** As whichever of their memberships they take part: somebody of two companies reads it in one of them. */
function readingDesk(file: PortalFile, table: Table, id: string, person: string, now: number): Desk | undefined {
  for (const m of membershipsOf(file, person)) {
    const viewer = personViewer(file, person, m.id, now);
    if (viewer?.person?.status !== "active") continue;
    const desk = new Desk(file, published(file).policy, viewer);
    if (desk.conversation(table, id)) return desk;
  }
  return undefined;
}

/** Whether a letter follows a kind that readers of the record hear of: a kind without an answer does not compile. */
const TOLD: Record<HeardBy<"readers">, boolean> = {
  "message-written": true,
  "record-added": false,
  "record-changed": false,
  "record-removed": false,
  "record-restored": false,
  "act-undone": false,
};

/** Only those who could read the message themselves: whoever lost sight of the record since hears nothing of it. */
export const answerLetters: Feed = {
  kinds: kindsHeardBy("readers").filter((kind) => TOLD[kind]),
  hear: (file, event) => {
    const { policy, definition } = published(file);
    const table = event.table ? policy.schema.findTable(event.table) : undefined;
    if (!table || !event.record) return;
    const page = allPagesIn({ policy, definition }).sheetOf(table.id);
    const writer = event.actor.kind === "person" ? event.actor.id : null;
    if (!page) return;
    for (const id of whoTalked(file, table.id, event.record, writer).slice(0, MOST_TOLD)) {
      const person = personFacts(file, id);
      if (!person?.email || writtenSince(file, id, "answered", event.at - TOLD_AGAIN_MS)) continue;
      const desk = readingDesk(file, table, event.record, id, event.at);
      const seen = desk?.read(table, event.record);
      if (!desk || !seen) continue;
      const by = (writer && desk.labelOf(desk.schema.people, writer)) ?? definition.portal.name;
      const note = `${desk.label(table, seen)}\n${portalAddress(file.slug)}/${page.address}/${event.record}`;
      const said = { ...saidOf(file, person, event.at), by, note };
      write(file, { occasion: "answered", to: { personId: id, email: person.email }, said, link: null, by: "system", now: event.at });
    }
  },
};
