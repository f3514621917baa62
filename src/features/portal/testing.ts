/** A request of a portal, made by hand for tests. */

import type { Viewer } from "@/core/access/who/viewer";
import { type Published, published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { Desk } from "@/data/records/desk";
import type { PortalRequest } from "@/identity/requests/request";

export const portalRequest = (file: PortalFile, viewer: Viewer, path = "/", of: Published = published(file)): PortalRequest => ({
  slug: "test",
  file,
  published: of,
  viewer,
  memberships: [],
  desk: new Desk(file, of.policy, viewer),
  session: null,
  half: null,
  seeAs: null,
  waits: false,
  notInYet: false,
  mustChoosePassword: false,
  choosing: null,
  base: "",
  path,
});
