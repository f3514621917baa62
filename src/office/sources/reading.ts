/** What a reading of a source works with in this process. */
import { published } from "@/data/definition/published";
import { enqueue } from "@/data/jobs/queue";
import { officeAddress } from "@/identity/requests/addresses";
import { ownerViewer } from "@/identity/viewers/viewer";
import { ownersOf } from "@/staff/staff";
import { type Sending, sendDue } from "./back/send";
import type { Reading } from "./first";
import { adapterOf } from "./sources";

export const SENDING: Sending = {
  adapter: (source) => adapterOf(source.kind),
  owner: () => ownerViewer({ id: "sources", name: "Elkhorn" }, Date.now()),
  tellStaff: (file, source, feed, why) => {
    const { portal } = published(file).definition;
    const at = `${officeAddress()}/portals/${file.slug}/connections/systems/${source.id}`;
    for (const o of ownersOf()) {
      const text = `Hello ${o.name.split(" ")[0]},\n\nthis is about “${feed.name}” of ${source.name}, which ${portal.name} is connected to. ${why}\n\nLook at it here:\n${at}\n`;
      enqueue(file, "mail", { to: o.email, subject: `${portal.name}: ${source.name} needs you`, text }, Date.now());
    }
  },
  now: Date.now,
};

export const READING: Reading = {
  ...SENDING,
  // What fails on our side is told by the job that sends; what has not gone is left out of the reading.
  sendFirst: (file) => sendDue(file, SENDING).catch(() => {}),
  tellStaff: (file, source, feed, why) => SENDING.tellStaff(file, source, feed, `It does not come in any more. ${why}`),
};
