"use client";
/** One column of a file: where it goes, as what, and how a relation finds its records. */
import type { ColumnGuess } from "@/core/exchange/guess";
import { type FillingColumn, IMPORTABLE, isRelationType, type PlanColumn, takesMore } from "@/core/exchange/import-plan";
import { wordsOfChoices } from "@/core/schema/fields/choice";
import { choosesOne, hasChoices, isDated, isMoney, isSummed } from "@/core/schema/fields/natures";
import { type FieldType, kindOf } from "@/core/schema/types";

export interface MappingColumn {
  name: string;
  sample: string[];
  guess: ColumnGuess;
}
export interface MappingTable {
  id: string;
  name: string;
  kind: "people" | "companies" | "ordinary";
  /** The field that names its records. */
  label: string;
  fields: { id: string; name: string; type: FieldType; target: string | null; key: boolean; takes: boolean }[];
}

interface Props {
  column: MappingColumn;
  /** Its place in the file. */
  place: number;
  value: PlanColumn;
  /** All columns of the file, with where they go. */
  columns: readonly MappingColumn[];
  values: readonly PlanColumn[];
  /** The table that the rows go into; undefined of a new one. */
  table: MappingTable | undefined;
  tables: readonly MappingTable[];
  currencies: readonly string[];
  currency: string;
  onChange: (c: PlanColumn) => void;
}

const fresh = ({ name, guess }: MappingColumn, currency: string): PlanColumn => ({
  to: "new",
  name: name.slice(0, 80),
  type: guess.type,
  order: guess.dateOrder,
  ...(guess.mark ? { mark: guess.mark } : {}),
  ...(choosesOne(guess) ? { choices: [...guess.choices] } : {}),
  decimals: guess.decimals,
  ...(guess.plain ? { plain: true } : {}),
  ...(isMoney(guess) ? { currency } : {}),
});

export function Goes({ column, place, value, columns, values, table, currency, onChange }: Props) {
  const key = value.to === "field" ? value.field : value.to === "behind" ? `behind ${value.at}` : value.to;
  const typeOf = (id: string): string | undefined => table?.fields.find((f) => f.id === id)?.type;
  // Whoever has something behind it cannot go behind another.
  const first = values.some((v) => v.to === "behind" && v.at === place);
  const choose = (to: string): void => {
    if (to.startsWith("behind ")) onChange({ to: "behind", at: Number(to.slice(7)) });
    else if (to === "skip") onChange({ to: "skip" });
    else if (to === "role") onChange({ to: "role" });
    else if (to === "new") onChange(fresh(column, currency));
    else onChange({ to: "field", field: to, order: column.guess.dateOrder, ...(column.guess.mark ? { mark: column.guess.mark } : {}) });
  };
  return (
    <div className="flex gap-2">
      <select
        aria-label={`Where ${column.name} goes`}
        className="select select-sm w-44 pr-7 text-ellipsis"
        value={key}
        onChange={(e) => choose(e.target.value)}
      >
        {table?.fields
          .filter((f) => f.takes)
          .map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        {table?.kind === "people" && <option value="role">Their role</option>}
        <option value="new">A new field</option>
        {columns.map(
          (c, i) =>
            i !== place &&
            ((!first && takesMore(values[i], typeOf)) || key === `behind ${i}`) && (
              <option key={c.name} value={`behind ${i}`}>
                Behind {c.name}
              </option>
            ),
        )}
        <option value="skip">Leave it out</option>
      </select>
      {value.to === "new" && (
        <input
          aria-label={`Name of the field for ${column.name}`}
          className="input input-sm w-32"
          value={value.name}
          onChange={(e) => onChange({ ...value, name: e.target.value })}
        />
      )}
    </div>
  );
}

/** The same column as another type; choices come with the words that stand in it. */
function retyped({ guess }: MappingColumn, value: Extract<PlanColumn, { to: "new" }>, type: FieldType): PlanColumn {
  const { choices: _, ...rest } = value;
  if (!hasChoices({ type })) return { ...rest, type } as PlanColumn;
  const several = (word: string): string[] => wordsOfChoices({ name: "", options: { choices: [] } }, true, word);
  const choices = choosesOne({ type }) ? [...guess.choices] : [...new Set(guess.choices.flatMap(several))].sort();
  return { ...rest, type, choices };
}

export function As(props: Props) {
  const { column, value, table, tables, currencies, onChange } = props;
  if (value.to === "skip") return <span className="quiet">not brought in</span>;
  if (value.to === "role") return <span className="quiet">the name of a role</span>;
  if (value.to === "behind") {
    const example = [props.columns[value.at]?.sample[0], column.sample[0]].filter(Boolean).join(" ");
    return <span className="quiet">{example ? `together: ${example}` : "together, with a space between"}</span>;
  }
  const field = value.to === "field" ? table?.fields.find((f) => f.id === value.field) : undefined;
  const type = value.to === "new" ? value.type : (field?.type ?? "text");
  const target = value.to === "new" ? value.target : (field?.target ?? undefined);
  return (
    <div className="flex flex-wrap items-center gap-2">
      {value.to === "field" ? (
        <span className="quiet">{kindOf({ type }).name}</span>
      ) : (
        <select
          aria-label={`Type of ${column.name}`}
          className="select select-sm w-44 pr-7 text-ellipsis"
          value={type}
          onChange={(e) => onChange(retyped(column, value, e.target.value as FieldType))}
        >
          {IMPORTABLE.map((t) => (
            <option key={t} value={t}>
              {kindOf({ type: t }).name}
              {t === column.guess.type ? " (guessed)" : ""}
            </option>
          ))}
        </select>
      )}
      {isDated({ type }) && (
        <select
          aria-label={`How ${column.name} is written`}
          className="select select-sm w-40"
          value={value.order}
          onChange={(e) => onChange({ ...value, order: e.target.value as never })}
        >
          <option value="iso">year-month-day</option>
          <option value="day-first">day/month/year</option>
          <option value="month-first">month/day/year</option>
        </select>
      )}
      {isSummed({ type }) && column.guess.mark !== null && (
        <select
          aria-label={`How the decimals of ${column.name} are written`}
          className="select select-sm w-32"
          value={value.mark ?? ""}
          onChange={(e) => onChange({ ...value, mark: e.target.value === "" ? null : (e.target.value as "." | ",") })}
        >
          <option value="">as it shows</option>
          <option value=".">1,234.56</option>
          <option value=",">1.234,56</option>
        </select>
      )}
      {value.to === "new" && isMoney({ type }) && (
        <select
          aria-label={`Currency of ${column.name}`}
          className="select select-sm w-24"
          value={value.currency ?? props.currency}
          onChange={(e) => onChange({ ...value, currency: e.target.value })}
        >
          {currencies.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      )}
      {value.to === "new" && hasChoices({ type }) && <Words choices={value.choices ?? []} />}
      {value.to === "field" && hasChoices({ type }) && (
        <AddMissing words="add words that are no choice yet" value={value} onChange={onChange} />
      )}
      {isRelationType(type) && (
        <Points column={column} value={value} target={target} tables={tables} open={value.to === "new"} onChange={onChange} />
      )}
    </div>
  );
}

/** The choices that the new field begins with. */
function Words({ choices }: { choices: readonly string[] }) {
  if (choices.length === 0) return null; // the check of the mapping says why
  const first = choices.slice(0, 4).join(", ");
  return <span className="quiet text-sm">{choices.length > 4 ? `${first} and ${choices.length - 4} more` : first}</span>;
}

type Into = FillingColumn;

/** What the file names and is not there is made with it. */
function AddMissing({ words, value, onChange }: { words: string; value: Into; onChange: (c: PlanColumn) => void }) {
  return (
    <label className="flex items-center gap-1.5 text-sm">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={value.add ?? false}
        onChange={(e) => onChange({ ...value, add: e.target.checked })}
      />
      {words}
    </label>
  );
}

interface PointsProps {
  column: MappingColumn;
  value: FillingColumn;
  target: string | undefined;
  tables: readonly MappingTable[];
  /** Whether the table pointed to is still to be chosen. */
  open: boolean;
  onChange: (c: PlanColumn) => void;
}

function Points({ column, value, target, tables, open, onChange }: PointsProps) {
  const there = tables.find((t) => t.id === target);
  return (
    <>
      {open && (
        <select
          aria-label={`What ${column.name} points to`}
          className="select select-sm w-32 pr-7 text-ellipsis"
          value={target ?? ""}
          onChange={(e) => onChange({ ...value, target: e.target.value, by: null } as PlanColumn)}
        >
          <option value="">points to…</option>
          {tables.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
      )}
      {there && (
        <label className="flex items-center gap-1.5">
          <span className="quiet">by</span>
          <select
            aria-label={`What ${column.name} calls them by`}
            className="select select-sm w-32"
            value={value.by ?? ""}
            onChange={(e) => onChange({ ...value, by: e.target.value || null })}
          >
            <option value="">name</option>
            {there.fields
              .filter((f) => f.key && f.id !== there.label)
              .map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
          </select>
        </label>
      )}
      {there && there.kind !== "people" && <AddMissing words="make missing ones" value={value} onChange={onChange} />}
    </>
  );
}
