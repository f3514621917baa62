/** The links of invitations that were made in one act, as a file or a sheet: for who hands them over by another way than mail. They open doors. */
import { eq } from "drizzle-orm";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { record } from "@/data/events/record";
import { messages } from "@/data/file/portal-tables";
import { personFacts } from "@/data/people/people";
import { portalAddress } from "@/identity/requests/addresses";
import { type OfficePortal, officePortalOf } from "@/identity/requests/office-gate";
import { onMainHost } from "@/identity/requests/request";
import { linkToken, lookAtLink } from "@/identity/secrets/links";
import { whyNoWayFor } from "./way-in";

export interface HandedLink {
  readonly name: string;
  readonly email: string;
  /** Null where it is used, replaced or over, or its receiver's alone. */
  readonly link: string | null;
}

/** Links of invitations to hand over. That somebody took them along is recorded. */
export function linksOf(p: OfficePortal, batch: string, kind: EventKind): HandedLink[] {
  const found = p.file.orm
    .select()
    .from(messages)
    .where(eq(messages.batch, batch))
    .all()
    .flatMap((m): HandedLink[] => {
      if (m.occasion !== "invited" || !m.linkId || m.linkVersion === null || !m.personId) return [];
      const token = linkToken(p.file, { id: m.linkId, version: m.linkVersion });
      // The link of somebody with a way of their own would let whoever reads it be them.
      const open = lookAtLink(p.file, token, p.now).state === "good" && whyNoWayFor(p, m.personId) === null;
      const name = personFacts(p.file, m.personId)?.name ?? "";
      return [{ name, email: m.email, link: open ? `${portalAddress(p.slug)}/link/${token}` : null }];
    });
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind, detail: `${found.length}` });
  return found;
}

/** The links of a batch of invitations as CSV. 404 for whoever may not invite. */
export async function linksFile(slug: string, batch: string): Promise<Response> {
  const p = (await onMainHost()) ? await officePortalOf(slug, "people") : undefined;
  if (!p) return new Response("Not found\n", { status: 404, headers: { "content-type": "text/plain; charset=utf-8" } });
  const rows = linksOf(p, batch, "links-downloaded").map((l) => [l.name, l.email, l.link ?? "(used, replaced, over, or theirs alone)"]);
  return new Response(BYTE_ORDER_MARK + csvLines([["Name", "E-mail", "Link"], ...rows]), {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": 'attachment; filename="links.csv"',
      "cache-control": "private, no-store",
    },
  });
}
