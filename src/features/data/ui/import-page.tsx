import { notFound } from "next/navigation";
import { fold } from "@/core/text/fold";
import { type ImportJob, importJob } from "@/data/imports/jobs";
import { companyNames } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/office-gate";
import { Link } from "@/ui/link";
import { SafeForm } from "@/ui/safe-form";
import { giveUp } from "../actions";
import { Checking, ImportResult } from "./import-result";
import { Mapping } from "./mapping";

interface Props {
  p: OfficePortal;
  params: { slug: string; id: string };
  search: { map?: string };
}

export async function ImportPage({ p, params, search }: Props) {
  const { slug, id } = params;
  const job = importJob(p.file, p.owner, id);
  if (!job || job.state === "given up") notFound();
  const { map } = search;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>Import {job.fileName}</h1>
        {job.state !== "done" && (
          <SafeForm action={giveUp.bind(null, slug, id)}>
            <button type="submit" className="btn btn-ghost btn-sm">
              Give this import up
            </button>
          </SafeForm>
        )}
      </div>
      {job.message && (
        <p role="alert" className="alert alert-warning">
          {job.message}
        </p>
      )}
      <Stage p={p} job={job} map={map === "1"} />
    </div>
  );
}

function Stage({ p, job, map }: { p: OfficePortal; job: ImportJob; map: boolean }) {
  const { schema } = p.live.policy;
  if (job.state === "done") {
    const table = job.tableId ? schema.findTable(job.tableId) : undefined;
    return (
      <p className="sheet p-6">
        This import is in.{" "}
        {table && (
          <Link className="link-plain" href={`${p.at}/data/${table.slug}`}>
            Open {table.name}
          </Link>
        )}
      </p>
    );
  }
  if (job.state === "checking") return <Checking done={job.done} total={job.total} locale={p.live.definition.portal.locale} />;
  if (job.state === "checked" && job.result && !map) {
    return (
      <ImportResult
        locale={p.live.definition.portal.locale}
        portal={p.slug}
        at={p.at}
        importId={job.id}
        good={job.result.good}
        bad={job.result.bad}
        problems={[...job.result.problems.slice(0, 101)]}
        newCompanies={[...job.result.newCompanies]}
      />
    );
  }
  const { analysis } = job;
  const known = new Set(companyNames(p.file, p.owner).map(fold));
  const scores = analysis.header.map(
    (h, i) => analysis.sample.filter((r) => known.has(fold((r[i] ?? "").trim()))).length * 2 + (/company|client|customer/i.test(h) ? 1 : 0),
  );
  const best = Math.max(...scores);
  return (
    <Mapping
      locale={p.live.definition.portal.locale}
      portal={p.slug}
      importId={job.id}
      fileName={job.fileName}
      rows={analysis.rows}
      ragged={analysis.ragged}
      columns={analysis.header.map((name, i) => ({
        name,
        sample: analysis.sample.map((r) => r[i] ?? ""),
        guess: { ...analysis.columns[i]!, choices: [...analysis.columns[i]!.choices] },
      }))}
      tables={schema.tables
        .filter((t) => t.kind === "ordinary")
        .map((t) => ({
          id: t.id,
          name: t.name,
          fields: t.fields
            .filter((f) => !f.system && f.type !== "relations")
            .map((f) => ({ id: f.id, name: f.name, type: f.type, toCompany: f.options.target === schema.companies.id })),
        }))}
      targets={schema.tables.map((t) => ({ id: t.id, name: t.name }))}
      suggestion={{
        table: job.fileName
          .replace(/\.[a-z]{2,4}$/i, "")
          .replace(/[_-]+/g, " ")
          .replace(/^./, (c) => c.toUpperCase()),
        company: best > 0 ? scores.indexOf(best) : null,
      }}
      before={job.plan ?? null}
    />
  );
}
