"use client";
/** Names of the file that no record has: taken for one that is near, made, or left out with their rows. */
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { fold } from "@/core/text/fold";
import type { Missed } from "@/data/imports/checking/check";
import { answered } from "@/ui/answered";
import { checkMended } from "../../imports";

interface Props {
  portal: string;
  importId: string;
  missed: readonly Missed[];
  more: number;
  locale: string;
}

const keyOf = (m: Missed): string => `${m.at} ${m.text}`;

export function MissedNames({ portal, importId, missed, more, locale }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [taken, setTaken] = useState<Record<string, string>>({});
  const [made, setMade] = useState<Record<number, boolean>>({});
  const [message, setMessage] = useState<string | null>(null);
  const columns = [...new Map(missed.map((m) => [m.at, m])).values()];
  const chosen = Object.values(taken).filter(Boolean).length + Object.values(made).filter(Boolean).length;
  const check = (): void =>
    start(async () => {
      const mended = columns.map((c) => ({
        at: c.at,
        add: made[c.at] ?? false,
        as: Object.fromEntries(
          missed.flatMap((m) => (m.at === c.at && taken[keyOf(m)] ? [[fold(m.text.normalize("NFC").trim()), taken[keyOf(m)]!]] : [])),
        ),
      }));
      const answer = await answered(checkMended(portal, importId, mended));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.problems.map((p) => p.message).join(" "));
      if (answer.ok) router.refresh();
    });
  return (
    <section className="sheet overflow-hidden" aria-label="Names without a record">
      <div className="border-b border-base-300 px-4 py-3">
        <h2>Names without a record</h2>
        <p className="quiet mt-1 text-sm">Their rows stay out until you say what is meant. Nothing is made unless you ask for it.</p>
      </div>
      <MissedTable missed={missed} locale={locale} taken={taken} setTaken={setTaken} />
      {more > 0 && <p className="quiet px-4 pt-3 text-sm">And {more.toLocaleString(locale)} more, which stand among the problems.</p>}
      <div className="flex flex-wrap items-center gap-4 px-4 py-3">
        {columns
          .filter((c) => c.canAdd)
          .map((c) => (
            <label key={c.at} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={made[c.at] ?? false}
                onChange={(e) => setMade({ ...made, [c.at]: e.target.checked })}
              />
              Make the others of {c.column} in {c.of}
            </label>
          ))}
        <button type="button" className="btn btn-sm" disabled={busy || chosen === 0} onClick={check}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Check again with these
        </button>
        {message && (
          <span role="alert" className="field-error">
            {message}
          </span>
        )}
      </div>
    </section>
  );
}

interface MissedTableProps {
  readonly missed: readonly Missed[];
  readonly locale: string;
  readonly taken: Record<string, string>;
  readonly setTaken: Dispatch<SetStateAction<Record<string, string>>>;
}

/** Names of the file that no record has. */
function MissedTable({ missed, locale, taken, setTaken }: MissedTableProps) {
  return (
    <div className="overflow-x-auto">
      <table className="grid-table">
        <thead>
          <tr>
            <th scope="col">In the file</th>
            <th scope="col">Column</th>
            <th scope="col" className="num">
              Rows
            </th>
            <th scope="col">Is meant</th>
          </tr>
        </thead>
        <tbody>
          {missed.map((m) => (
            <tr key={keyOf(m)}>
              <td className="font-medium">{m.text}</td>
              <td>{m.column}</td>
              <td className="num">{m.rows.toLocaleString(locale)}</td>
              <td>
                {m.nearest.length > 0 ? (
                  <select
                    aria-label={`What ${m.text} means`}
                    className="select select-sm w-80 max-w-full"
                    value={taken[keyOf(m)] ?? ""}
                    onChange={(e) => setTaken({ ...taken, [keyOf(m)]: e.target.value })}
                  >
                    <option value="">Did you mean {m.nearest[0]!.name}?</option>
                    {m.nearest.map((x) => (
                      <option key={x.id} value={x.id}>
                        Yes: {x.name}
                      </option>
                    ))}
                  </select>
                ) : (
                  <span className="quiet">nothing of {m.of} is near to it</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
