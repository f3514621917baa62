"use client";
/** Records of one company put under another: what it does to who sees them is shown first, and it can be undone. */
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { moveToCompany } from "../cells";
import type { Moved } from "../moving";

interface Props {
  portal: string;
  table: string;
  /** In small letters. */
  things: string;
  thing: string;
  companies: readonly { id: string; name: string; records: number }[];
  locale: string;
}

export function Move({ portal, table, things, thing, companies, locale }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [tried, setTried] = useState<Moved | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const n = (x: number): string => x.toLocaleString(locale);
  const some = (x: number): string => (x === 1 ? `one ${thing}` : `${n(x)} ${things}`);
  const nameOf = (id: string): string => companies.find((c) => c.id === id)?.name ?? "";
  const choose = (set: (v: string) => void, v: string): void => {
    set(v);
    setTried(null);
    setMessage(null);
  };
  const undo = (moved: Moved): void =>
    start(async () => {
      const back = await answered(moveToCompany(portal, { table, from: to, to: from, ids: [...moved.ids] }, true));
      if (!back) return;
      if (back.ok) toast.success(`${nameOf(from)} has ${some(back.value.ids.length)} back.`);
      else toast.error(back.message);
      router.refresh();
    });
  const ask = (really: boolean): void =>
    start(async () => {
      const answer = await answered(moveToCompany(portal, { table, from, to }, really));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      setTried(answer.ok && !really ? answer.value : null);
      if (!answer.ok || !really) return;
      const moved = answer.value;
      toast.success(`${nameOf(to)} has ${some(moved.ids.length)} more.`, {
        action: { label: "Undo", onClick: () => undo(moved) },
        duration: 20_000,
      });
      router.refresh();
    });
  return (
    <div className="grid max-w-3xl gap-5">
      <section className="sheet grid gap-4 p-6" aria-label="From where to where">
        <FromAndTo from={from} choose={choose} setFrom={setFrom} companies={companies} some={some} to={to} setTo={setTo} />
        <div>
          <button type="button" className="btn" disabled={busy || !from || !to} onClick={() => ask(false)}>
            {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
            See what it does
          </button>
          <span className="quiet ml-3 text-sm">Nothing is moved yet.</span>
        </div>
        {message && (
          <p role="alert" className="alert alert-error">
            {message}
          </p>
        )}
      </section>
      {tried && <MoveResult some={some} tried={tried} nameOf={nameOf} from={from} to={to} n={n} busy={busy} ask={ask} />}
    </div>
  );
}

interface MoveResultProps {
  readonly some: (x: number) => string;
  readonly tried: Moved;
  readonly nameOf: (id: string) => string;
  readonly from: string;
  readonly to: string;
  readonly n: (x: number) => string;
  readonly busy: boolean;
  readonly ask: (really: boolean) => void;
}

/** What the move would do. */
function MoveResult({ some, tried, nameOf, from, to, n, busy, ask }: MoveResultProps) {
  return (
    <section className="sheet overflow-hidden" aria-label="What it does" role="status">
      <div className="grid gap-2 border-b border-base-300 px-3 py-4">
        <h2>
          {some(tried.ids.length)} from {nameOf(from)} to {nameOf(to)}
        </h2>
        {tried.more > 0 && (
          <p>
            {n(tried.more)} more stay for a second time: one act moves {n(tried.ids.length)} at the most.
          </p>
        )}
        {tried.strangers.map((s) => (
          <p key={s.field} className="text-accent">
            {some(s.records)} {s.records === 1 ? "names" : "name"} under {s.field} somebody or something of another company.
          </p>
        ))}
      </div>
      {tried.people.length > 0 ? (
        <div className="overflow-x-auto">
          <table className="grid-table">
            <thead>
              <tr>
                <th scope="col">Person</th>
                <th scope="col" className="hidden sm:table-cell">
                  Company
                </th>
                <th scope="col" className="num">
                  Sees now
                </th>
                <th scope="col" className="num">
                  Would see
                </th>
              </tr>
            </thead>
            <tbody>
              {tried.people.slice(0, 100).map((x) => (
                <tr key={`${x.name} ${x.company}`}>
                  <td className="font-medium">
                    {x.name}
                    <span className="quiet block font-normal sm:hidden">{x.company}</span>
                  </td>
                  <td className="hidden sm:table-cell">{x.company}</td>
                  <td className="num">{n(x.before)}</td>
                  <td className="num">{n(x.after)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : (
        <p className="quiet px-3 py-4">Nobody of either company sees more or fewer of them.</p>
      )}
      <div className="px-3 py-4">
        <button type="button" className="btn btn-primary" disabled={busy} onClick={() => ask(true)}>
          Move {some(tried.ids.length)}
        </button>
      </div>
    </section>
  );
}

interface FromAndToProps {
  readonly from: string;
  readonly choose: (set: (v: string) => void, v: string) => void;
  readonly setFrom: Dispatch<SetStateAction<string>>;
  readonly companies: readonly { id: string; name: string; records: number }[];
  readonly some: (x: number) => string;
  readonly to: string;
  readonly setTo: Dispatch<SetStateAction<string>>;
}

/** From which company, to which. */
function FromAndTo({ from, choose, setFrom, companies, some, to, setTo }: FromAndToProps) {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <label className="grid gap-1">
        <span className="field-label mb-0!">All that belong to</span>
        <select className="select w-full" value={from} onChange={(e) => choose(setFrom, e.target.value)}>
          <option value="">choose…</option>
          {companies
            .filter((c) => c.records > 0)
            .map((c) => (
              <option key={c.id} value={c.id}>{`${c.name}, ${some(c.records)}`}</option>
            ))}
        </select>
      </label>
      <label className="grid gap-1">
        <span className="field-label mb-0!">Go to</span>
        <select className="select w-full" value={to} onChange={(e) => choose(setTo, e.target.value)}>
          <option value="">choose…</option>
          {companies
            .filter((c) => c.id !== from)
            .map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
        </select>
      </label>
    </div>
  );
}
