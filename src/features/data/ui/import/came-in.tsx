/** What an import has done, once it is in: how much came, what stayed out, and the way back. */
import { Download } from "lucide-react";
import { broughtWords, leftOutWords } from "@/core/exchange/came-in";
import type { Table } from "@/core/schema/types";
import { formatMoment } from "@/core/text/format";
import type { ImportJob } from "@/data/imports/jobs";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { count } from "@/office/words";
import { Link } from "@/ui/link";
import { TakeBack } from "./take-back";

export function CameIn({ p, job, table }: { p: OfficePortal; job: ImportJob; table: Table | undefined }) {
  const { locale, timeZone } = p.live.definition.portal;
  const result = job.result ?? { fresh: 0, changed: 0, bad: 0 };
  const n = (x: number): string => count(p, x);
  return (
    <div className="sheet grid gap-4 p-6">
      <p>
        It came in{job.doneAt && ` on ${formatMoment(job.doneAt, locale, timeZone)}`}: {broughtWords(result, n)}.{" "}
        {table && (
          <Link className="link-plain" href={`${p.at}/data/${table.slug}`}>
            Open {table.name}
          </Link>
        )}
      </p>
      {result.bad > 0 && (
        <div className="flex flex-wrap items-center gap-3">
          <p>{leftOutWords(result, n)} This file says what is wrong: mend it there, and drop it as it is.</p>
          <a className="btn btn-sm" href={`${p.at}/data/import/${job.id}/problems`} download>
            <Download size={15} aria-hidden /> Download as CSV
          </a>
        </div>
      )}
      {table && <TakeBack portal={p.slug} importId={job.id} locale={locale} />}
    </div>
  );
}
