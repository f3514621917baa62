/** The way into every back-office page: the owner's session and the portal's file, or sign-in and back. */

import { headers } from "next/headers";
import { notFound, redirect } from "next/navigation";
import { cache } from "react";
import { mayInOffice, type Right } from "@/core/access/who/office";
import type { Owner } from "@/core/access/who/viewer";
import { type Published, published } from "@/data/definition/published";
import { timeIn } from "@/data/file/clock";
import { type PortalFile, portalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { Desk, type OwnerDesk } from "@/data/records/desk";
import { needsOwner } from "@/identity/office/setup";
import { officeSession, type Staff } from "../office/sessions";
import { ownerViewer } from "../viewers/viewer";
import { officeToken } from "./cookies";
import { requestOffice, requestOfficeWrite } from "./request";

export interface OfficePortal {
  readonly slug: string;
  readonly staff: Staff;
  /** Stands for the session of the back office, and opens nothing. */
  readonly session: string;
  readonly owner: Owner;
  readonly file: PortalFile;
  readonly live: Published;
  /** The owner's, under the published rules. */
  readonly desk: OwnerDesk;
  /** Milliseconds since the epoch, as of the request. */
  readonly now: number;
  /** What the portal's office addresses begin with. */
  readonly at: string;
}

/** Who works in the back office, if they have the right. Sends anybody else to where they can go, and never returns then. */
export async function office(right: Right): Promise<{ staff: Staff; owner: Owner; path: string; session: string }> {
  const any = await requestOffice("overview");
  if (!any) redirect(needsOwner() ? "/-/setup" : await wayIn());
  return (await requestOffice(right)) ?? notFound();
}

/** Half in leads to the second step. */
async function wayIn(): Promise<string> {
  // Where they were going, with all that stands in the address.
  const to = (await headers()).get("x-elkhorn-path") ?? "/";
  const half = officeSession(await officeToken(), Date.now(), "second");
  return half ? `/-/second?to=${encodeURIComponent(to)}` : `/sign-in${to === "/" ? "" : `?to=${encodeURIComponent(to)}`}`;
}

/** Once a request, however many of its parts ask: its versions are looked up once, and all of it sees the same. */
export const officePortal = cache(async (slug: string, right: Right): Promise<OfficePortal> => {
  const any = await requestOffice("overview");
  if (!any) redirect(await wayIn());
  if (!mayInOffice(any.staff.role, right)) redirect(`/portals/${slug}/-/closed`);
  return (await officePortalOf(slug, right)) ?? notFound();
});

/** For what is no page: undefined where nobody is signed in who may, or there is no such portal. Portals' hosts never come here (`proxy.ts`). */
export async function officePortalOf(slug: string, right: Right): Promise<OfficePortal | undefined> {
  return (await requestOffice(right)) && portalAtDesk(slug);
}

/** Called only after `requestOffice` has said that they may. */
const portalAtDesk = cache(async (slug: string): Promise<OfficePortal | undefined> => {
  const r = await requestOffice("overview");
  const file = r && portalFile(slug);
  if (!r || !file) return undefined;
  file.meta.look();
  const live = published(file);
  // In a rehearsal the office, too, goes by its clock.
  const now = timeIn(file, r.owner.now);
  const owner = now === r.owner.now ? r.owner : ownerViewer(r.staff, now);
  return {
    slug,
    staff: r.staff,
    session: r.session,
    owner,
    file,
    live,
    desk: new Desk(file, live.policy, owner),
    now,
    at: `/portals/${slug}`,
  };
});

/** For actions: the same, and the request comes from the back office's own pages. */
export async function officePortalWrite(slug: string, right: Right): Promise<OfficePortal> {
  await requestOfficeWrite(right);
  const p = (await officePortalOf(slug, right)) ?? notFound();
  await whenFree(p.file);
  return p;
}
