/** A request of a portal, made by hand for tests. */
import type { Viewer } from "@/core/access/viewer";
import { type Published, published } from "@/data/definition/definitions";
import type { PortalFile } from "@/data/file/open";
import type { PortalRequest } from "@/identity/request";

export const portalRequest = (file: PortalFile, viewer: Viewer, path = "/", of: Published = published(file)): PortalRequest => ({
  slug: "test",
  file,
  published: of,
  viewer,
  session: null,
  seeAs: null,
  mustChoosePassword: false,
  base: "",
  path,
});
