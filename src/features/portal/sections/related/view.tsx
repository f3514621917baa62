/** Records that point to the page's record. */
import type { SectionOf } from "@/core/pages/page";
import type { SectionProps } from "../at";
import { AnyList } from "../list/view";

export function RelatedSection({ at, section }: SectionProps<SectionOf<"related">>) {
  const { source, through, ...settings } = section.config;
  const { schema } = at.r.desk;
  const table = schema.table(source.table);
  const field = schema.field(through);
  // Only a reader of the relation's field learns which records point here.
  if (!at.about || !at.r.desk.knows(table, field)) return null;
  return (
    <AnyList at={at} section={section} table={table} source={source} settings={settings} through={{ field, id: at.about.record.id }} />
  );
}
