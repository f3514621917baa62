"use server";
/** A record's page was opened, or is to count as unread again: kept for the person alone. */
import { z } from "zod";
import { noteRead } from "@/data/views/reads";
import { requestPortalWrite } from "@/identity/requests/request";

const asked = z.tuple([z.string().max(64), z.string().max(64), z.boolean()]);

export async function keepRead(table: string, record: string, read: boolean): Promise<void> {
  const r = await requestPortalWrite();
  const parsed = asked.safeParse([table, record, read]);
  const of = parsed.success ? r.published.policy.schema.findTable(table) : undefined;
  if (!of || !r.session || !r.desk.read(of, record)) return;
  noteRead(r.file, r.viewer, record, read);
}
