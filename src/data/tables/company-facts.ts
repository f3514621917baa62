/** What is known of a company whoever asks: its name, its address and its fields. Undefined where it is gone. */
import type { Values } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import { schemaOf } from "./read";
import { readRow } from "./rows";

/** A company's name, short name and values; undefined where there is none. */
export function companyFacts(file: PortalFile, id: string): { id: string; name: string; slug: string; values: Values } | undefined {
  const schema = schemaOf(file);
  const row = readRow(file, schema, schema.companies, id);
  return row && { id, name: String(row.values.f_company_name ?? ""), slug: String(row.values.f_company_slug ?? ""), values: row.values };
}
