import { notFound } from "next/navigation";
import { type ImportPlan, keyFields, takesImport } from "@/core/exchange/import-plan";
import type { Schema } from "@/core/schema/types";
import { type ImportJob, importJob } from "@/data/imports/jobs";
import { suggestPlan } from "@/data/imports/proposing/suggest";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { companySettings } from "@/joining/company-settings";
import { rolesToGive } from "@/joining/least-role";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { giveUp } from "../../imports";
import { CameIn } from "./came-in";
import { Checking, ImportResult } from "./import-result";
import { Mapping } from "./mapping";
import type { MappingTable } from "./mapping-column";

interface Props {
  p: OfficePortal;
  params: { slug: string; id: string };
  search: { map?: string };
}

/** One import at whichever step it is: mapping, check, and what came in. */
export async function ImportPage({ p, params, search }: Props) {
  const { slug, id } = params;
  const job = importJob(p.file, p.owner, id);
  if (!job || (job.state === "given up" && job.message !== "taken back")) notFound();
  const { map } = search;
  const open = job.state !== "done" && job.state !== "given up";
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>Import {job.fileName}</h1>
        {open && (
          <SafeForm action={giveUp.bind(null, slug, id)}>
            <button type="submit" className="btn btn-ghost btn-sm">
              Give this import up
            </button>
          </SafeForm>
        )}
      </div>
      {open && job.message && (
        <p role="alert" className="alert alert-warning">
          {job.message}
        </p>
      )}
      <Stage p={p} job={job} map={map === "1"} />
    </div>
  );
}

const tableOf = (plan: ImportPlan | undefined, schema: Schema): string =>
  !plan ? "" : "id" in plan.table ? (schema.findTable(plan.table.id)?.name ?? "") : plan.table.name;

function Stage({ p, job, map }: { p: OfficePortal; job: ImportJob; map: boolean }) {
  const { schema } = p.live.policy;
  const { locale, currency } = p.live.definition.portal;
  if (job.state === "given up") return <p className="sheet p-6">This import was taken back: all that it had brought in is gone again.</p>;
  if (job.state === "done") {
    const table = job.tableId ? schema.findTable(job.tableId) : undefined;
    return <CameIn p={p} job={job} table={table} />;
  }
  if (job.state === "checking") return <Checking done={job.done} total={job.total} files={job.files} locale={locale} />;
  if (job.state === "checked" && job.result && !map) {
    return (
      <ImportResult
        locale={locale}
        portal={p.slug}
        at={p.at}
        importId={job.id}
        result={job.result}
        into={tableOf(job.plan, schema)}
        keyed={job.plan?.key !== null && job.plan !== undefined && "id" in job.plan.table}
      />
    );
  }
  const { analysis } = job;
  return (
    <Mapping
      key={`${analysis.source.sheet} ${analysis.headerAt}`}
      portal={p.slug}
      at={p.at}
      importId={job.id}
      shape={{
        fileName: job.fileName,
        rows: analysis.rows,
        ragged: analysis.ragged,
        blank: analysis.blank,
        sheets: [...analysis.source.sheets],
        sheet: analysis.source.sheet,
        headerAt: analysis.headerAt,
        first: analysis.first.map((r) => r.filter(Boolean).join(" · ").slice(0, 90)),
        locale,
      }}
      columns={analysis.header.map((name, i) => ({
        name,
        sample: analysis.sample.map((r) => r[i] ?? ""),
        guess: { ...analysis.columns[i]!, values: [] },
      }))}
      tables={schema.tables.flatMap((t): MappingTable[] => {
        if (t.kind === "books") return [];
        const keys = new Set(keyFields(t).map((f) => f.id));
        const table: MappingTable = {
          id: t.id,
          name: t.name,
          kind: t.kind,
          label: t.labelFieldId,
          fields: t.fields.map((f) => ({
            id: f.id,
            name: f.name,
            type: f.type,
            target: f.options.target ?? null,
            key: keys.has(f.id),
            takes: takesImport(t, f),
          })),
        };
        return [table];
      })}
      roles={[...rolesToGive(p.file, "client"), ...rolesToGive(p.file, "agency")].map((r) => ({ id: r.id, name: r.name, side: r.side }))}
      plan={
        job.plan ?? suggestPlan({ file: p.file, owner: p.owner, analysis, fileName: job.fileName, leads: companySettings(p.file).leads })
      }
      archive={job.archive ?? null}
      currency={currency}
      currencies={[...new Set([currency, "GBP", "EUR", "USD", ...Intl.supportedValuesOf("currency")])]}
    />
  );
}
