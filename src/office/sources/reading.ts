/** What a reading of a source works with in this process. */
import { published } from "@/data/definition/published";
import { enqueue } from "@/data/jobs/queue";
import { officeAddress } from "@/identity/requests/addresses";
import { ownerViewer } from "@/identity/viewers/viewer";
import { ownersOf } from "@/staff/staff";
import type { Reading } from "./run";
import { adapterOf } from "./sources";

export const READING: Reading = {
  adapter: (source) => adapterOf(source.kind),
  owner: () => ownerViewer({ id: "sources", name: "Elkhorn" }, Date.now()),
  tellStaff: (file, source, feed, why) => {
    const { portal } = published(file).definition;
    const at = `${officeAddress()}/portals/${file.slug}/connections/systems/${source.id}`;
    for (const o of ownersOf()) {
      const text = `Hello ${o.name.split(" ")[0]},\n\n“${feed.name}” of ${source.name} does not come in to ${portal.name} any more. ${why}\n\nLook at it here:\n${at}\n`;
      enqueue(file, "mail", { to: o.email, subject: `${portal.name}: ${source.name} does not come in`, text }, Date.now());
    }
  },
  now: Date.now,
};
