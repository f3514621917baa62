"use client";
/** What each field of the table is, of people or of companies; what would come of it is shown before it is done. */
import { useRouter } from "next/navigation";
import { type Dispatch, type ReactNode, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import type { Making } from "../../making";
import { makeOfTable } from "../../making-actions";
import { MakeTrial } from "./make-trial";

interface Choice {
  readonly id: string;
  readonly name: string;
}
interface Join extends Choice {
  readonly to: readonly Choice[];
  readonly guess: string;
}
type Into = "people" | "companies";

interface Props {
  portal: string;
  table: { id: string; name: string; singular: string };
  agency: string;
  locale: string;
  names: readonly Choice[];
  emails: readonly Choice[];
  companies: readonly Choice[];
  guess: { name: string; email: string; company: string };
  joins: Record<Into, readonly Join[]>;
  roles: readonly Choice[];
  agencyRoles: readonly Choice[];
  to: Record<Into, string>;
}

export function MakeForm({ portal, table, agency, locale, names, emails, companies, guess, joins, roles, agencyRoles, to }: Props) {
  const { busy, into, setInto, fields, joined, setJoined, held, shown, setShown, tried, message, anew, ask, field, ticks, used } =
    useMaking({ portal, table, locale, guess, joins, roles, to });
  return (
    <div className="grid max-w-3xl gap-5">
      <section className="sheet grid gap-5 p-6" aria-label="What they become">
        <IntoChoice table={table} into={into} anew={anew} setInto={setInto} />
        <MadeFrom field={field} names={names} into={into} emails={emails} companies={companies} />
        {into === "people" && (
          <div className="grid gap-4 sm:grid-cols-2">
            {fields.company && ticks("First roles in their company", "roles", roles)}
            <FirstRoles ticks={ticks} agency={agency} agencyRoles={agencyRoles} held={held} shown={shown} anew={anew} setShown={setShown} />
          </div>
        )}
        {joins[into].some((j) => !used.includes(j.id)) && (
          <JoinedFields into={into} joins={joins} used={used} joined={joined} anew={anew} setJoined={setJoined} />
        )}
        <TryButton busy={busy} ask={ask} />
        {message && (
          <p role="alert" className="alert alert-error">
            {message}
          </p>
        )}
      </section>
      {tried && <MakeTrial tried={tried} into={into} table={table} locale={locale} busy={busy} onMake={() => ask(true)} />}
    </div>
  );
}

/** What is chosen, and what it would do. */
function useMaking({
  portal,
  table,
  locale,
  guess,
  joins,
  roles,
  to,
}: Pick<Props, "portal" | "table" | "locale" | "guess" | "joins" | "roles" | "to">) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [into, setInto] = useState<Into>(guess.email ? "people" : "companies");
  const [fields, setFields] = useState(guess);
  const [joined, setJoined] = useState<Record<Into, Record<string, string>>>({
    people: Object.fromEntries(joins.people.map((j) => [j.id, j.guess])),
    companies: Object.fromEntries(joins.companies.map((j) => [j.id, j.guess])),
  });
  const [held, setHeld] = useState({ roles: roles.slice(0, 1).map((r) => r.id), agencyRoles: [] as string[] });
  const [shown, setShown] = useState(false);
  const [tried, setTried] = useState<Making | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const anew = (change: () => void): void => {
    change();
    setTried(null);
    setMessage(null);
  };
  const ask = (really: boolean): void =>
    start(async () => {
      const people = into === "people";
      const answer = await answered(
        makeOfTable(
          portal,
          {
            table: table.id,
            into,
            name: fields.name,
            email: people ? fields.email || null : null,
            company: people ? fields.company || null : null,
            joins: Object.fromEntries(
              Object.entries(joined[into]).filter(
                ([from, x]) => x && ![fields.name, people && fields.email, people && fields.company].includes(from),
              ),
            ),
            roles: people ? held.roles : [],
            agencyRoles: people ? held.agencyRoles : [],
            shown: people && shown && held.agencyRoles.length > 0,
          },
          really,
        ),
      );
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      setTried(answer.ok ? answer.value : null);
      if (!answer.ok || !really) return;
      toast.success(`${answer.value.made.toLocaleString(locale)} of ${table.name} are ${into} now.`);
      router.push(to[into]);
    });
  const field = fieldBoxes(fields, setFields, anew);
  const ticks = tickBoxes(held, setHeld, anew);
  const used = [fields.name, ...(into === "people" ? [fields.email, fields.company] : [])];
  return { busy, into, setInto, fields, joined, setJoined, held, shown, setShown, tried, message, anew, ask, field, ticks, used };
}

interface JoinedFieldsProps {
  readonly into: Into;
  readonly joins: Record<Into, readonly Join[]>;
  readonly used: string[];
  readonly joined: Record<Into, Record<string, string>>;
  readonly anew: (change: () => void) => void;
  readonly setJoined: Dispatch<SetStateAction<Record<Into, Record<string, string>>>>;
}

/** Which of the table's fields go into fields that are there. */
function JoinedFields({ into, joins, used, joined, anew, setJoined }: JoinedFieldsProps) {
  return (
    <fieldset className="grid gap-2">
      <legend className="field-label">Fields that {into} have already</legend>
      {joins[into]
        .filter((j) => !used.includes(j.id))
        .map((j) => (
          <label key={j.id} className="grid items-center gap-1 sm:grid-cols-2">
            <span>{j.name} goes on</span>
            <select
              className="select select-sm w-full"
              value={joined[into][j.id]}
              onChange={(e) => anew(() => setJoined({ ...joined, [into]: { ...joined[into], [j.id]: e.target.value } }))}
            >
              <option value="">as a field of its own</option>
              {j.to.map((x) => (
                <option key={x.id} value={x.id}>
                  in {x.name}
                </option>
              ))}
            </select>
          </label>
        ))}
    </fieldset>
  );
}

interface MadeFromProps {
  readonly field: (label: string, key: "company" | "email" | "name", among: readonly Choice[], help?: string | undefined) => ReactNode;
  readonly names: readonly Choice[];
  readonly into: Into;
  readonly emails: readonly Choice[];
  readonly companies: readonly Choice[];
}

/** Name, address and company. */
function MadeFrom({ field, names, into, emails, companies }: MadeFromProps) {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      {field("Name", "name", names)}
      {into === "people" && field("E-mail", "email", emails, "Without one, a record stays a record.")}
      {into === "people" &&
        field(
          "Company",
          "company",
          companies,
          companies.length === 1
            ? "The table has no relation to Companies. Make one under Shape to put people in their companies."
            : undefined,
        )}
    </div>
  );
}

interface FirstRolesProps {
  readonly ticks: (legend: string, key: "roles" | "agencyRoles", among: readonly Choice[]) => ReactNode;
  readonly agency: string;
  readonly agencyRoles: readonly Choice[];
  readonly held: { roles: string[]; agencyRoles: string[] };
  readonly shown: boolean;
  readonly anew: (change: () => void) => void;
  readonly setShown: Dispatch<SetStateAction<boolean>>;
}

/** Roles that they begin with. */
function FirstRoles({ ticks, agency, agencyRoles, held, shown, anew, setShown }: FirstRolesProps) {
  return (
    <div className="grid content-start gap-3">
      {ticks(`First roles of those without a company, at ${agency}`, "agencyRoles", agencyRoles)}
      {held.agencyRoles.length > 0 && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={shown}
            onChange={(e) => anew(() => setShown(e.target.checked))}
          />
          Mark them as shown to clients
        </label>
      )}
    </div>
  );
}

/** Tried first: nothing changes by it. */
function TryButton({ busy, ask }: { busy: boolean; ask: (really: boolean) => void }) {
  return (
    <div>
      <button type="button" className="btn" disabled={busy} onClick={() => ask(false)}>
        {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
        See what it does
      </button>
      <span className="quiet ml-3 text-sm">Nothing is changed yet.</span>
    </div>
  );
}

interface IntoChoiceProps {
  readonly table: { id: string; name: string; singular: string };
  readonly into: Into;
  readonly anew: (change: () => void) => void;
  readonly setInto: Dispatch<SetStateAction<Into>>;
}

/** People or companies. */
function IntoChoice({ table, into, anew, setInto }: IntoChoiceProps) {
  return (
    <div role="radiogroup" aria-label={`${table.name} become`} className="flex flex-wrap gap-x-6 gap-y-2">
      {(["people", "companies"] as const).map((x) => (
        <label key={x} className="flex items-center gap-2">
          <input type="radio" name="into" className="radio radio-sm" checked={into === x} onChange={() => anew(() => setInto(x))} />
          {x === "people" ? "People who can sign in" : "Companies that people belong to"}
        </label>
      ))}
    </div>
  );
}

type Anew = (change: () => void) => void;

/** Makes a choice of one of the table's fields. */
const fieldBoxes =
  <K extends string>(fields: Record<K, string>, setFields: (next: Record<K, string>) => void, anew: Anew) =>
  (label: string, key: K, among: readonly Choice[], help?: string) => (
    <label className="grid content-start gap-1">
      <span className="field-label mb-0!">{label}</span>
      <select className="select w-full" value={fields[key]} onChange={(e) => anew(() => setFields({ ...fields, [key]: e.target.value }))}>
        {!among.some((x) => x.id === fields[key]) && <option value="">choose…</option>}
        {among.map((x) => (
          <option key={x.id} value={x.id}>
            {x.name}
          </option>
        ))}
      </select>
      {help && <span className="quiet text-sm">{help}</span>}
    </label>
  );

/** Makes boxes to tick, one for each role. */
const tickBoxes =
  <K extends string>(held: Record<K, string[]>, setHeld: (next: Record<K, string[]>) => void, anew: Anew) =>
  (legend: string, key: K, among: readonly Choice[]) => (
    <fieldset className="grid content-start gap-1">
      <legend className="field-label">{legend}</legend>
      {among.map((r) => (
        <label key={r.id} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={held[key].includes(r.id)}
            onChange={(e) =>
              anew(() => setHeld({ ...held, [key]: e.target.checked ? [...held[key], r.id] : held[key].filter((x: string) => x !== r.id) }))
            }
          />
          {r.name}
        </label>
      ))}
    </fieldset>
  );
