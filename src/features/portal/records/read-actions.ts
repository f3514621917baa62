"use server";
import { noteRead } from "@/data/views/reads";
import { word, yes } from "@/identity/requests/takes";
import { portalCall } from "@/office/portal-action";

export const keepRead = portalCall([word, word, yes], async (r, table, record, read): Promise<void> => {
  const of = r.published.policy.schema.findTable(table);
  if (!of || !r.session || !r.desk.read(of, record)) return;
  noteRead(r.file, r.viewer, record, read);
});
