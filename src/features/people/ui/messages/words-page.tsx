import { OCCASIONS, type OccasionId, WORDS } from "@/core/messages/occasions";
import { templateOf, valueWords } from "@/data/messages/outbox";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { TemplateForm } from "./template-form";

/** How messages read, occasion by occasion. */
export function WordsPage({ p }: { p: OfficePortal }) {
  const values = valueWords(p.file).map(({ word, field }) => ({
    word,
    about: `${field.name} of ${word.startsWith("person.") ? "the receiver" : "their company"}: nothing, where they may not read it`,
  }));
  return (
    <div className="grid max-w-3xl gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/people/outbox`}>
          Outbox
        </Link>
      </nav>
      <div>
        <h1>How messages read</h1>
        <p className="quiet mt-1 max-w-prose">Words in braces are filled in for each receiver.</p>
      </div>
      {(Object.keys(OCCASIONS) as OccasionId[]).map((id) => {
        const o = OCCASIONS[id];
        const { subject, body } = templateOf(p.file, id);
        return (
          <TemplateForm
            key={`${id} ${subject} ${body}`}
            portal={p.slug}
            id={id}
            name={o.name}
            about={o.about}
            subject={subject}
            body={body}
            changed={subject !== o.subject || body !== o.body}
            words={o.words.map((w) => ({ word: w, about: WORDS[w] }))}
            values={o.channel === "mail" ? values : []}
          />
        );
      })}
    </div>
  );
}
