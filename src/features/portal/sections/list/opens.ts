/** Where pressing a record leads. */
import { fits } from "@/core/pages/audience";
import type { Table } from "@/core/schema/types";
import type { ListSettings } from "@/core/sections/list";
import type { PortalRequest } from "@/identity/requests/request";
import { allPagesFor, readerFor, recordHref } from "../../pages-for";

export function opensTo(r: PortalRequest, table: Table, { opens }: Pick<ListSettings, "opens">): (id: string) => string | null | undefined {
  if (opens === "nothing") return () => null;
  if (opens === "record") {
    const href = recordHref(r);
    return (id) => href(table.id, id);
  }
  const page = allPagesFor(r).page(opens.page);
  if (!page || !fits(page.audience, readerFor(r))) return () => null;
  return (id) => (page.about === table.id ? `${r.base}/${page.address}/${id}` : page.about === null ? `${r.base}/${page.address}` : null);
}
