import { notFound } from "next/navigation";
import { dateIn } from "@/core/time/relative";
import { directory } from "@/data/people/directory";
import { personFacts } from "@/data/people/people";
import { companyFacts } from "@/data/tables/company-facts";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { Merge } from "./merge";
import { RemovePerson } from "./remove-person";

/** Where two records of one person become one, and where somebody is removed. */
export function PartPersonPage({ p, id }: { p: OfficePortal; id: string }) {
  const person = personFacts(p.file, id);
  if (!person) notFound();
  const { locale } = p.live.definition.portal;
  return (
    <div className="grid max-w-3xl gap-6 [&>*]:min-w-0">
      <Link className="link-plain -mb-3 text-sm" href={`${p.at}/people/${id}`}>
        {person.name}
      </Link>
      <h1>Merge or remove {person.name}</h1>
      <section className="grid gap-3" aria-labelledby="merge">
        <h2 id="merge">Merge with another record of theirs</h2>
        <p className="max-w-prose">
          Places in companies, relations, files and history of both become one person’s. {person.name} stays; where both say something, what
          is here is kept.
        </p>
        <Merge
          portal={p.slug}
          of="people"
          stays={{ id, name: person.name }}
          source={`${p.at}/people/named`}
          locale={locale}
          to={`${p.at}/people/${id}`}
        />
      </section>
      <section className="grid gap-3" aria-labelledby="remove">
        <h2 id="remove">Remove</h2>
        <RemovePerson
          portal={p.slug}
          person={{ id, name: person.name }}
          source={`${p.at}/people/named`}
          locale={locale}
          to={`${p.at}/people`}
        />
      </section>
    </div>
  );
}

/** Merges another company into this one. */
export function PartCompanyPage({ p, id }: { p: OfficePortal; id: string }) {
  const company = companyFacts(p.file, id);
  if (!company) notFound();
  const { locale, timeZone } = p.live.definition.portal;
  const { companies } = directory(p.file, p.owner, dateIn(p.now, timeZone));
  return (
    <div className="grid max-w-3xl gap-6 [&>*]:min-w-0">
      <Link className="link-plain -mb-3 text-sm" href={`${p.at}/people`}>
        People and companies
      </Link>
      <h1>Merge another company into {company.name}</h1>
      <p className="-mt-3 max-w-prose">
        People, records and what was paid of both become one company’s. {company.name} stays; where both say something, what is here is
        kept.
      </p>
      <Merge
        portal={p.slug}
        of="companies"
        stays={{ id, name: company.name }}
        among={companies.filter((c) => c.id !== id).map((c) => ({ id: c.id, name: c.name }))}
        locale={locale}
        to={`${p.at}/people`}
      />
    </div>
  );
}
