import { notFound } from "next/navigation";
import { levelProblem } from "@/core/review/level";
import { holdsEmail, isLine } from "@/core/schema/fields/natures";
import { type Field, kindOf } from "@/core/schema/types";
import { isEmail } from "@/core/text/email";
import { joinable } from "@/data/making/ask";
import { levelSees, tieTo } from "@/data/making/level";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { rolesToGive } from "@/joining/least-role";
import { Link } from "@/ui/link";
import { LevelForm } from "./level-form";
import { MakeForm } from "./make-form";

const NONE = { id: "", name: "none" };

/** Where a table that is there is made people or companies, or a level below the company. */
export function MakePage({ p, table: asked }: { p: OfficePortal; table: string }) {
  const { schema } = p.live.policy;
  const table = schema.tableAt(asked);
  if (table?.kind !== "ordinary") notFound();
  const { portal } = p.live.definition;
  const own = table.fields.filter((f) => !f.system);
  const some = p.desk.list(table, { limit: 30 }).records;
  const like = (f: Field): boolean => {
    const filled = some.map((r) => String(r.fields[f.id] ?? "")).filter(Boolean);
    return filled.length > 0 && filled.filter(isEmail).length > filled.length / 2;
  };
  const words = own.filter((f) => kindOf(f).folds && (isLine(f) || holdsEmail(f)));
  const email = own.find((f) => holdsEmail(f)) ?? words.find(like);
  const called = own.find((f) => f.id === table.labelFieldId && f.id !== email?.id) ?? words.find((f) => f.id !== email?.id);
  const companies = own.filter((f) => f.options.target === schema.companies.id);
  const pick = (f: Field) => ({ id: f.id, name: f.name });
  const joins = (target: typeof schema.people) =>
    own.flatMap((f) => {
      const to = joinable(f, target);
      return to.length > 0
        ? [{ ...pick(f), to: to.map(pick), guess: to.find((x) => x.name.toLowerCase() === f.name.toLowerCase())?.id ?? "" }]
        : [];
    });
  const held = (side: "client" | "agency") => rolesToGive(p.file, side).map(({ id, name }) => ({ id, name }));
  const level = levelProblem(p.live.policy, table) === null ? table : null;
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-4 text-sm">
        <Link className="link-plain" href={`${p.at}/data/${table.slug}`}>
          {table.name}
        </Link>{" "}
        /{" "}
        <Link className="link-plain" href={`${p.at}/data/${table.slug}/shape`}>
          Shape
        </Link>
      </nav>
      <div>
        <h1>{table.name} as people or companies</h1>
        <p className="quiet mt-1 max-w-prose">
          A person or a company is one record, wherever it is named. Records of this table can become people who sign in, or companies that
          people belong to.
        </p>
      </div>
      <MakeForm
        portal={p.slug}
        table={{ id: table.id, name: table.name, singular: table.singular }}
        agency={portal.name}
        locale={portal.locale}
        names={words.map(pick)}
        emails={words.filter((f) => holdsEmail(f) || isLine(f)).map(pick)}
        companies={[NONE, ...companies.map(pick)]}
        guess={{ name: called?.id ?? "", email: email?.id ?? "", company: companies[0]?.id ?? "" }}
        joins={{ people: joins(schema.people), companies: joins(schema.companies) }}
        roles={held("client")}
        agencyRoles={held("agency")}
        to={{ people: `${p.at}/people`, companies: `${p.at}/data/${schema.companies.slug}` }}
      />
      {level && (
        <section className="grid max-w-3xl gap-3" aria-label="A level below the company">
          <h2>A level below the company</h2>
          <p className="max-w-prose">
            {table.name} belong to companies. People can be tied to some of them, so that a role sees its own {table.name.toLowerCase()}{" "}
            alone and not all of the company’s.
          </p>
          <LevelForm
            portal={p.slug}
            table={level.id}
            guess={`${level.singular} manager`}
            sees={levelSees(schema, level)}
            tied={tieTo(schema, level)?.name ?? null}
            to={{ access: `${p.at}/access`, people: `${p.at}/data/${schema.people.slug}` }}
          />
        </section>
      )}
    </div>
  );
}
