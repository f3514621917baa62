import { formatDate } from "@/core/text/format";
import type { Standing } from "@/data/billing/standing";
import { STANDINGS, wantsLook } from "@/office/standings";
import { Link } from "@/ui/link";

interface Props {
  /** Address of the portal in the office. */
  at: string;
  company: { readonly id: string; readonly name: string; readonly standing: Standing };
  locale: string;
}

/** The first three cells of a row that tells of a company: who, on which plan, and how it stands. */
export function CompanyCells({ at, company: { id, name, standing }, locale }: Props) {
  return (
    <>
      <td className="font-medium">
        <Link className="link-plain" href={`${at}/plans/companies/${id}`}>
          {name}
        </Link>
      </td>
      <td data-label="Plan">{standing.plan?.name ?? <span className="quiet">none</span>}</td>
      <td data-label="Standing" className={wantsLook(standing.state) ? "font-medium text-accent" : ""}>
        {STANDINGS[standing.state]}
        {standing.until && `, ${standing.state === "lapsed" ? "since" : "until"} ${formatDate(standing.until, locale)}`}
      </td>
    </>
  );
}
