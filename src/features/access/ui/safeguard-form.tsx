"use client";
/** A safeguard said in its parts: who, what must or must never be, of which table. */
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import type { Claim, Subject } from "@/core/access/safeguards";
import { answered } from "@/ui/answered";
import { addSafeguard, type SafeguardErrors } from "../safeguard-actions";
import { Choice, Named, Part } from "./safeguard-parts";

export interface TableChoice {
  id: string;
  name: string;
  fields: { id: string; name: string }[];
  /** Ways of relations to the company that a record belongs to; the wall's own first. */
  ways: { way: string[]; words: string }[];
}

export interface Asked {
  who: string;
  role: string;
  company: string;
  person: string;
  table: string;
  must: string;
  field: string;
  n: string;
}

interface Props {
  portal: string;
  revision: number;
  back: string;
  roles: { id: string; name: string; side: string }[];
  tables: TableChoice[];
  companies: string;
  people: string;
  asked: Asked;
}

const WHO: [string, string][] = [
  ["client", "all clients"],
  ["agency", "the agency's own people"],
  ["visitor", "visitors, not signed in"],
  ["role", "whoever holds the role"],
  ["company", "everybody of the company"],
  ["person", "one person"],
];
const MUST: [string, string][] = [
  ["nothing see", "never see any record of"],
  ["nothing add", "never add a record to"],
  ["nothing change", "never change any record of"],
  ["nothing remove", "never remove any record of"],
  ["nothing export", "never download any record of"],
  ["others see", "never see other companies' records of"],
  ["others change", "never change other companies' records of"],
  ["others remove", "never remove other companies' records of"],
  ["others export", "never download other companies' records of"],
  ["field see", "never read a field of"],
  ["field change", "never set a field of"],
  ["count exactly", "see exactly so many records of"],
  ["count at most", "see at most so many records of"],
  ["count at least", "see at least so many records of"],
];

/** As people write whole numbers, with or without marks between thousands; an empty box is no number, not nought. */
function wholeNumber(text: string): number {
  const t = text.trim();
  return /^(\d+|\d{1,3}([,.'’\s]\d{3})+)$/.test(t) ? Number(t.replaceAll(/\D/g, "")) : Number.NaN;
}

function subjectOf(a: Asked): Subject {
  if (a.who === "role") return { kind: "role", role: a.role };
  if (a.who === "company") return { kind: "company", company: a.company };
  if (a.who === "person") return { kind: "person", person: a.person, company: a.company || null };
  return { kind: "side", side: a.who as "client" };
}

function claimOf(a: Asked, way: readonly string[]): Claim {
  const [kind, ...rest] = a.must.split(" ");
  const what = rest.join(" ");
  if (kind === "field") return { kind, action: what as "see", field: a.field };
  if (kind === "count") return { kind, bound: what as "exactly", n: wholeNumber(a.n) };
  if (kind === "others") return { kind, action: what as "see", way: [...way] };
  return { kind: "nothing", action: what as "see" };
}

export function SafeguardForm({ portal, revision, back, roles, tables, companies, people, asked }: Props) {
  const router = useRouter();
  // An address may ask for anything; what is not offered here is not asked.
  const offered = (of: readonly [string, string][], v: string): string => (of.some(([x]) => x === v) ? v : of[0]![0]);
  const [a, setA] = useState({ ...asked, who: offered(WHO, asked.who), must: offered(MUST, asked.must) });
  const [way, setWay] = useState(0);
  const [errors, setErrors] = useState<SafeguardErrors>({});
  const [busy, start] = useTransition();
  const table = tables.find((t) => t.id === a.table);
  const kind = a.must.split(" ")[0];
  const set = (more: Partial<Asked>): void => setA({ ...a, ...more });
  const save = () =>
    start(async () => {
      if (kind === "others" && table?.ways.length === 0)
        return setErrors({ form: `No relation leads from ${table.name} to a company, so its records are nobody's.` });
      const said = { subject: subjectOf(a), table: a.table, claim: claimOf(a, table?.ways[way]?.way ?? []) };
      const answer = await answered(addSafeguard(portal, revision, said));
      if (!answer) return;
      setErrors(answer.ok ? {} : answer.errors);
      if (!answer.ok) return;
      setA({ ...asked, who: a.who, must: a.must, table: "", role: "", company: "", person: "", field: "", n: "" });
      router.replace(back, { scroll: false });
    });
  return (
    <form
      className="sheet grid gap-5 p-5"
      aria-labelledby="add"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
      noValidate
    >
      <h2 id="add">Add a safeguard</h2>
      {errors.form && (
        <div role="alert" className="alert alert-error">
          {errors.form}
        </div>
      )}
      <div className="grid items-start gap-x-5 gap-y-4 md:grid-cols-3">
        <SubjectParts a={a} set={set} errors={errors} roles={roles} portal={portal} people={people} companies={companies} />
        <Part label="Must">{(id) => <Choice id={id} value={a.must} onChange={(must) => set({ must })} of={MUST} />}</Part>
        <ClaimParts errors={errors} a={a} set={set} setWay={setWay} tables={tables} kind={kind} table={table} way={way} />
      </div>
      <div>
        <button type="submit" className="btn btn-primary" disabled={busy}>
          Keep in the draft
        </button>
      </div>
    </form>
  );
}

interface ClaimPartsProps {
  readonly errors: SafeguardErrors;
  readonly a: { who: string; must: string; role: string; company: string; person: string; table: string; field: string; n: string };
  readonly set: (more: Partial<Asked>) => void;
  readonly setWay: Dispatch<SetStateAction<number>>;
  readonly tables: TableChoice[];
  readonly kind: string | undefined;
  readonly table: TableChoice | undefined;
  readonly way: number;
}

/** What is never to happen. */
function ClaimParts({ errors, a, set, setWay, tables, kind, table, way }: ClaimPartsProps) {
  return (
    <div className="grid gap-3">
      <Part label="Table" error={errors.table}>
        {(id) => (
          <Choice
            id={id}
            value={a.table}
            onChange={(t) => {
              set({ table: t, field: "" });
              setWay(0);
            }}
            of={tables.map((t) => [t.id, t.name])}
            none="a table…"
          />
        )}
      </Part>
      {kind === "field" && (
        <Part label="Field" error={errors.field}>
          {(id) => (
            <Choice
              id={id}
              value={a.field}
              onChange={(field) => set({ field })}
              of={(table?.fields ?? []).map((f) => [f.id, f.name])}
              none="a field…"
            />
          )}
        </Part>
      )}
      {kind === "count" && (
        <Part label="How many" error={errors.n}>
          {(id) => (
            <input
              id={id}
              className="input w-full"
              inputMode="numeric"
              value={a.n}
              onChange={(e) => set({ n: e.target.value })}
              aria-invalid={errors.n ? true : undefined}
              aria-describedby={`${id}-error`}
            />
          )}
        </Part>
      )}
      {kind === "others" && table && table.ways.length > 1 && (
        <Part label="Whose they are, by">
          {(id) => (
            <Choice id={id} value={String(way)} onChange={(w) => setWay(Number(w))} of={table.ways.map((w, i) => [String(i), w.words])} />
          )}
        </Part>
      )}
    </div>
  );
}

interface SubjectPartsProps {
  readonly a: { who: string; must: string; role: string; company: string; person: string; table: string; field: string; n: string };
  readonly set: (more: Partial<Asked>) => void;
  readonly errors: SafeguardErrors;
  readonly roles: { id: string; name: string; side: string }[];
  readonly portal: string;
  readonly people: string;
  readonly companies: string;
}

/** About whom the safeguard says something. */
function SubjectParts({ a, set, errors, roles, portal, people, companies }: SubjectPartsProps) {
  return (
    <div className="grid gap-3">
      <Part label="Who">
        {(id) => <Choice id={id} value={a.who} onChange={(who) => set({ who, role: "", company: "", person: "" })} of={WHO} />}
      </Part>
      {a.who === "role" && (
        <Part label="Role" error={errors.role}>
          {(id) => (
            <Choice
              id={id}
              value={a.role}
              onChange={(role) => set({ role })}
              of={roles.map((r) => [r.id, r.side === "agency" ? `${r.name} (agency)` : r.name])}
              none="a role…"
            />
          )}
        </Part>
      )}
      {a.who === "person" && (
        <Named label="Person" error={errors.person} portal={portal} table={people} id={a.person} onId={(person) => set({ person })} />
      )}
      {(a.who === "company" || a.who === "person") && (
        <Named
          label={a.who === "company" ? "Company" : "Acting for (any of theirs, if empty)"}
          error={errors.company}
          portal={portal}
          table={companies}
          id={a.company}
          onId={(company) => set({ company })}
        />
      )}
    </div>
  );
}
