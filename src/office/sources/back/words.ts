/** What an owner is told beside a record or a table of what goes to other systems. */
import type { Owner } from "@/core/access/who/viewer";
import type { Table } from "@/core/schema/types";
import type { PortalFile } from "@/data/file/open";
import { feedById } from "../feeds";
import { sourceById } from "../sources";
import { openSendsOf } from "./queue";
import { fieldsOut } from "./ways";

const listed = new Intl.ListFormat("en-GB", { type: "conjunction" });

/** A sentence for each system in which a change of this record has not arrived, with the address of its page. */
export function notArrived(file: PortalFile, record: string): { readonly source: string; readonly words: string }[] {
  const told = new Map<string, string>();
  for (const s of openSendsOf(file, record)) {
    const feed = feedById(file, s.feedId);
    const source = feed && sourceById(file, feed.sourceId);
    if (!source || told.has(source.id)) continue;
    const words =
      s.state === "asked"
        ? `A value of it was changed here and in ${source.name}. Say which one stays.`
        : `A change of it has not arrived in ${source.name} yet.${s.message ? ` ${s.message}` : ""}`;
    told.set(source.id, words);
  }
  return [...told].map(([source, words]) => ({ source, words }));
}

/** Which fields go where, or null where none does. */
export function goesOutWords(file: PortalFile, owner: Owner, table: Table): string | null {
  const to = new Map<string, string[]>();
  for (const [field, systems] of fieldsOut(file, owner, table.id)) {
    const name = table.fields.find((f) => f.id === field)?.name;
    if (name) for (const s of systems) to.set(s, [...(to.get(s) ?? []), name]);
  }
  if (to.size === 0) return null;
  return [...to].map(([system, names]) => `${listed.format(names)} ${names.length === 1 ? "goes" : "go"} to ${system}`).join("; ");
}
