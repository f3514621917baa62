/** The way into every portal page: the request of this host, or sign-in and back to where the person was going. */

import { notFound, redirect } from "next/navigation";
import type { Table } from "@/core/schema/types";
import { movedTable } from "@/data/tables/read";
import { type PortalRequest, requestPortal } from "@/identity/requests/request";
import { missingFeatures } from "./queries";

export { safePath } from "@/core/address/safe-path";

/** The request to a portal; ends with "not found" where there is none at this address. */
export async function portal(slug: string): Promise<PortalRequest> {
  const r = await requestPortal(slug);
  if (!r) notFound();
  // Half way in is no way in: there is the second step, and signing out.
  if (r.half && !r.path.startsWith("/-/second")) redirect(`${r.base}/-/second?to=${encodeURIComponent(r.path)}`);
  if (r.waits && !r.path.startsWith("/-/waiting")) redirect(`${r.base}/-/waiting`);
  if (r.mustChoosePassword && !r.path.startsWith("/new-password")) redirect(`${r.base}/new-password?to=${encodeURIComponent(r.path)}`);
  return r;
}

/** Sends whoever is signed out to the sign-in page, and from there back to where they were going. Never returns. */
export const toSignIn = (r: PortalRequest): never => redirect(`${r.base}/sign-in?to=${encodeURIComponent(r.path)}`);

/** A table by its address. One that is not open reads as one that does not exist, except that a plan's door is shown as one. */
export function tableAt(r: PortalRequest, slug: string): { table: Table; open: boolean } {
  const table = r.published.policy.schema.tableBySlug(slug);
  if (table && r.desk.may(table, "see")) return { table, open: true };
  const moved = table ? undefined : movedTable(r.file, slug);
  if (moved) redirect(r.base + r.path.replace(`/${slug}`, `/${moved.slug}`));
  if (r.viewer.kind === "visitor") toSignIn(r);
  if (table && missingFeatures(r, table).length > 0) return { table, open: false };
  notFound();
}
