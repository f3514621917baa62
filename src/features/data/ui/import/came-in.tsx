/** What an import has done, once it is in: how much came, what stayed out, and the way back. */
import { Download } from "lucide-react";
import type { Table } from "@/core/schema/types";
import { formatMoment } from "@/core/text/format";
import type { ImportJob } from "@/data/imports/jobs";
import type { OfficePortal } from "@/identity/office-gate";
import { count } from "@/office/words";
import { Link } from "@/ui/link";
import { TakeBack } from "./take-back";

export function CameIn({ p, job, table }: { p: OfficePortal; job: ImportJob; table: Table | undefined }) {
  const { locale, timeZone } = p.live.definition.portal;
  const { fresh = 0, changed = 0, bad = 0 } = job.result ?? {};
  const parts = [fresh > 0 && `${count(p, fresh)} new`, changed > 0 && `${count(p, changed)} changed`].filter(Boolean);
  return (
    <div className="sheet grid gap-4 p-6">
      <p>
        It came in{job.doneAt && ` on ${formatMoment(job.doneAt, locale, timeZone)}`}:{" "}
        {parts.length > 0 ? parts.join(", ") : "nothing was changed"}.{" "}
        {table && (
          <Link className="link-plain" href={`${p.at}/data/${table.slug}`}>
            Open {table.name}
          </Link>
        )}
      </p>
      {bad > 0 && (
        <div className="flex flex-wrap items-center gap-3">
          <p>{bad === 1 ? "One row stayed out." : `${count(p, bad)} rows stayed out.`} Mend what is wrong in it, and drop that file.</p>
          <a className="btn btn-sm" href={`${p.at}/data/import/${job.id}/problems`} download>
            <Download size={15} aria-hidden /> Download as CSV
          </a>
        </div>
      )}
      {table && <TakeBack portal={p.slug} importId={job.id} locale={locale} />}
    </div>
  );
}
