/** A form on a page. What it asks and what comes after it stand in its settings; what may be set, the policy says. */
import type { SectionOf } from "@/core/pages/page";
import { withArticle } from "@/core/text/article";
import { sayOf } from "../../queries";
import { askedForm } from "../../records/asked";
import { sendForm } from "../../records/form-actions";
import { PageForm } from "../../ui/page-form";
import { headingId, type SectionProps } from "../at";

export function FormSection({ at, section }: SectionProps<SectionOf<"form">>) {
  const { r } = at;
  const { config } = section;
  const table = r.desk.schema.table(config.table);
  const form = askedForm(r, section, at.about?.record ?? null, at.search);
  if (!form) return null;
  const say = sayOf(r);
  const thing = table.singular.toLowerCase();
  const change = config.does === "change";
  return (
    <>
      <h2 id={headingId(section)}>
        {section.title || (change ? say("form.change-the", { thing }) : say("list.add", { a_thing: withArticle(table.singular) }))}
      </h2>
      <div className="sheet p-6">
        <PageForm
          action={sendForm}
          {...form}
          uploads={`${r.base}/-/uploads`}
          submit={config.submit || (change ? say("form.keep") : say("form.add-the", { thing }))}
        />
      </div>
    </>
  );
}
