/**
 * A portal's pages as the back office draws them while they are laid out: from the draft, as somebody would find them, through a handle
 * that cannot write. It is no session: nothing of it can be sent, and nobody but the office's own staff is ever answered.
 */
import { draftPolicy } from "@/core/access/policy";
import type { Definition } from "@/core/definition/definition";
import { portalFile } from "@/data/file/open";
import { Desk } from "@/data/records/desk";
import type { OfficePortal } from "./office-gate";
import { lookedAs, type PortalRequest } from "./request";
import type { SeeAs } from "./see-as";

/** Undefined where nobody is called so any more. */
export function previewRequest(
  p: OfficePortal,
  definition: Definition,
  as: Omit<SeeAs, "session">,
  path: string,
): PortalRequest | undefined {
  const file = portalFile(p.slug, true);
  if (!file) return undefined;
  file.meta.look();
  const seeAs: SeeAs = { ...as, session: "" };
  const looked = lookedAs(file, seeAs, p.now);
  if (!looked) return undefined;
  const policy = draftPolicy(p.live.policy, definition);
  return {
    ...looked,
    slug: p.slug,
    file,
    published: { version: p.live.version, definition, policy },
    desk: new Desk(file, policy, looked.viewer),
    session: null,
    half: null,
    seeAs,
    mustChoosePassword: false,
    choosing: null,
    // Files stand below the office's own address; links lead nowhere while a page is laid out.
    base: p.at,
    path,
  };
}
