/** The way into every back-office page: the owner's session and the portal's file, or sign-in and back. */

import { notFound, redirect } from "next/navigation";
import { cache } from "react";
import type { Owner } from "@/core/access/viewer";
import { type Published, published } from "@/data/definition/published";
import { type PortalFile, portalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { Desk, type OwnerDesk } from "@/data/records/desk";
import { needsOwner } from "@/identity/setup";
import type { Staff } from "./office";
import { requestOffice, requestOfficeWrite } from "./request";

export interface OfficePortal {
  readonly slug: string;
  readonly staff: Staff;
  /** Of the back office; what stands for it without opening it. */
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

export async function office(): Promise<{ staff: Staff; owner: Owner; path: string }> {
  const r = await requestOffice();
  if (!r) redirect(needsOwner() ? "/-/setup" : "/sign-in");
  return r;
}

/** Once a request, however many of its parts ask: its versions are looked up once, and all of it sees the same. */
export const officePortal = cache(async (slug: string): Promise<OfficePortal> => {
  if (!(await requestOffice())) redirect(`/sign-in?to=${encodeURIComponent(`/portals/${slug}`)}`);
  return (await officePortalOf(slug)) ?? notFound();
});

/** For what is no page: undefined where nobody is signed in, or there is no such portal. Portals' hosts never come here (`proxy.ts`). */
export const officePortalOf = cache(async (slug: string): Promise<OfficePortal | undefined> => {
  const r = await requestOffice();
  const file = r && portalFile(slug);
  if (!r || !file) return undefined;
  file.meta.look();
  const live = published(file);
  return {
    slug,
    staff: r.staff,
    session: r.session,
    owner: r.owner,
    file,
    live,
    desk: new Desk(file, live.policy, r.owner),
    now: r.owner.now,
    at: `/portals/${slug}`,
  };
});

/** For actions: the same, and the request comes from the back office's own pages. */
export async function officePortalWrite(slug: string): Promise<OfficePortal> {
  await requestOfficeWrite();
  const p = await officePortal(slug);
  await whenFree(p.file);
  return p;
}
