import { mayInOffice } from "@/core/access/who/office";
import { pathWords } from "@/core/access/words/wording";
import type { Schema, Table } from "@/core/schema/types";
import { waysToCompanies } from "@/core/schema/ways";
import { draftOf } from "@/data/definition/draft";
import { draftMoves } from "@/data/definition/versions";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { type AccessView, holds } from "@/office/checking";
import { CheckTabs } from "@/office/ui/check-tabs";
import { DraftSteps } from "@/office/ui/draft-steps";
import { Empty } from "@/ui/empty";
import { NotCounted, Progress } from "@/ui/progress";
import { accessView } from "../queries";
import { safeguardsOf } from "../safeguards";
import { type Asked, SafeguardForm } from "./safeguard-form";
import { SafeguardList } from "./safeguard-list";

/** The room's own part of the draft: its undo leaves the others alone. */
const ACCESS = ["access"] as const;

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: Partial<Record<keyof Asked, string>>;
}

/** The sentences about access that must hold, each with whether it does and who breaks it. */
export async function SafeguardsPage({ p, search }: Props) {
  const q = search;
  const v = accessView(p);
  const { schema } = v;
  const outcome = await safeguardsOf(p);
  const verdicts = outcome.state === "ready" ? outcome.value : [];
  const broken = verdicts.filter((x) => !holds(x)).length;
  const said = (key: keyof Asked, otherwise = ""): string => String(q[key] ?? otherwise).slice(0, 100);
  const table = schema.tableAt(said("table"));
  const builds = mayInOffice(p.staff.role, "build");
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <CheckTabs at={p.at} role={p.staff.role} />
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>Safeguards</h1>
          <p className="quiet mt-1 max-w-prose">
            Sentences about access that must hold. Every draft is checked against them, and publishing waits until each holds or is
            withdrawn.
          </p>
        </div>
        {builds && <DraftSteps portal={p.slug} revision={v.revision} parts={ACCESS} {...draftMoves(p.file, p.owner, ACCESS)} />}
      </div>
      {outcome.state === "working" && <Progress at={`${p.at}/progress/safeguards`} words="Asking everybody the safeguards speak of…" />}
      {outcome.state === "failed" && <NotCounted />}
      {outcome.state === "ready" && verdicts.length === 0 && (
        <div className="sheet">
          <Empty title="No safeguard yet">
            {builds
              ? "Say below what must never happen, such as a client reading what something costs you."
              : "A builder says what must never happen."}
          </Empty>
        </div>
      )}
      {verdicts.length > 0 && (
        <section aria-labelledby="kept" className="grid gap-3">
          <h2 id="kept">
            {broken === 0 ? "All hold" : `${broken} of ${verdicts.length} broken`}
            <span className="quiet font-normal"> {draftOf(p.file, p.owner).changed ? "in the draft" : `in version ${p.live.version}`}</span>
          </h2>
          <SafeguardList
            portal={p.slug}
            at={p.at}
            revision={builds ? v.revision : null}
            verdicts={verdicts}
            locale={v.definition.portal.locale}
            names={{
              table: (id) => schema.findTable(id)?.name ?? "a removed table",
              field: (id) => schema.findField(id)?.name ?? "a removed field",
              slug: (id) => schema.findTable(id)?.slug ?? "",
            }}
          />
        </section>
      )}
      {builds && <NewSafeguard key={JSON.stringify(q)} p={p} v={v} schema={schema} said={said} table={table} />}
    </div>
  );
}

interface NewSafeguardProps {
  readonly p: OfficePortal;
  readonly v: AccessView;
  readonly schema: Schema;
  readonly said: (key: "person" | "company" | "field" | "table" | "role" | "n" | "who" | "must", otherwise?: string) => string;
  readonly table: Table | undefined;
}

/** The form for another. */
function NewSafeguard({ p, v, schema, said, table }: NewSafeguardProps) {
  return (
    <SafeguardForm
      portal={p.slug}
      revision={v.revision}
      back={`${p.at}/safeguards`}
      roles={v.definition.roles.filter((r) => r.side !== "visitor").map(({ id, name, side }) => ({ id, name, side }))}
      tables={schema.tables.map((t) => {
        const wall = v.policy.wall(t.id);
        const own = wall.kind === "owned" ? wall.path.join() : null;
        const ways = waysToCompanies(schema, t).sort((a, b) => Number(b.join() === own) - Number(a.join() === own));
        return {
          id: t.id,
          name: t.name,
          fields: t.fields.map((f) => ({ id: f.id, name: f.name })),
          ways: ways.map((way) => ({ way, words: pathWords(schema, way) || "the company itself" })),
        };
      })}
      companies={schema.companies.id}
      people={schema.people.id}
      asked={{
        who: said("who", "client"),
        role: said("role"),
        company: said("company"),
        person: said("person"),
        table: table?.id ?? "",
        must: said("must", "nothing see"),
        field: table?.fields.find((f) => f.slug === said("field"))?.id ?? "",
        n: said("n"),
      }}
    />
  );
}
