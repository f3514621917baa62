/** The way into every back-office page: the owner's session and the portal's file, or sign-in and back. */

import { notFound, redirect } from "next/navigation";
import type { Owner } from "@/core/access/viewer";
import { type Published, published } from "@/data/definition/definitions";
import { type PortalFile, portalFile } from "@/data/file/open";
import type { Staff } from "./office";
import { requestOffice, requestOfficeWrite } from "./request";

export interface OfficePortal {
  readonly slug: string;
  readonly staff: Staff;
  readonly owner: Owner;
  readonly file: PortalFile;
  readonly live: Published;
  /** What the portal's office addresses begin with. */
  readonly at: string;
}

export async function office(): Promise<{ staff: Staff; owner: Owner; path: string }> {
  const r = await requestOffice();
  if (!r) redirect("/sign-in");
  return r;
}

export async function officePortal(slug: string): Promise<OfficePortal> {
  const r = await requestOffice();
  if (!r) redirect(`/sign-in?to=${encodeURIComponent(`/portals/${slug}`)}`);
  const file = portalFile(slug);
  if (!file) notFound();
  return { slug, staff: r.staff, owner: r.owner, file, live: published(file), at: `/portals/${slug}` };
}

/** For actions: the same, and the request comes from the back office's own pages. */
export async function officePortalWrite(slug: string): Promise<OfficePortal> {
  await requestOfficeWrite();
  return officePortal(slug);
}
