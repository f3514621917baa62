/** Addresses that pages had before: links to them lead on. */
import type { Definition } from "@/core/definition/definition";
import type { PortalFile } from "../file/open";
import { rowOf, runOf } from "../file/text";

/** What was another address is kept; one that a page has now is nobody's former one. */
export function keepPageAddresses(file: PortalFile, before: Pick<Definition, "pages"> | null, now: Pick<Definition, "pages">): void {
  const is = new Map(now.pages.map((p) => [p.id, p.address]));
  for (const p of before?.pages ?? [])
    if (is.has(p.id) && is.get(p.id) !== p.address)
      runOf(
        file,
        "INSERT INTO sys_page_addresses (address, page_id) VALUES (?, ?) ON CONFLICT (address) DO UPDATE SET page_id = excluded.page_id",
        p.address,
        p.id,
      );
  runOf(file, "DELETE FROM sys_page_addresses WHERE address IN (SELECT value FROM json_each(?))", JSON.stringify([...is.values()]));
}

/** The id of the page that stood at this address last. */
export const movedPage = (file: PortalFile, address: string): string | undefined =>
  rowOf(file, "SELECT page_id FROM sys_page_addresses WHERE address = ?", address)?.[0] as string | undefined;
