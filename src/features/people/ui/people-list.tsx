"use client";
/** The people that fit, several of whom may be invited in one act. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { everyoneLike, type Invited, inviteMany } from "../inviting";
import type { PersonRow, Search } from "../queries";
import { ManyBar } from "./many-bar";

interface Props {
  portal: string;
  at: string;
  rows: readonly PersonRow[];
  /** All that fit, on other pages too. */
  total: number;
  search: Search;
  locale: string;
  roles: readonly { readonly id: string; readonly name: string }[];
}

export function PeopleList({ portal, at, rows, total, search, locale, roles }: Props) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [busy, start] = useTransition();
  const n = (x: number): string => x.toLocaleString(locale);
  const here = rows.every((r) => chosen.has(r.id));
  const choose = (ids: readonly string[], on: boolean): void =>
    setChosen((all) => {
      const next = new Set(all);
      for (const id of ids) on ? next.add(id) : next.delete(id);
      return next;
    });
  const everyone = (): void =>
    start(async () => {
      const ids = await answered(everyoneLike(portal, search));
      if (ids) setChosen(new Set(ids));
    });
  return (
    <div className="sheet overflow-hidden">
      {chosen.size > 0 && (
        <Bar portal={portal} at={at} chosen={[...chosen]} locale={locale} roles={roles} leave={() => setChosen(new Set())}>
          {chosen.size < total && here && (
            <button type="button" className="link-plain" onClick={everyone} disabled={busy}>
              Choose all {n(total)}
            </button>
          )}
        </Bar>
      )}
      <table className="grid-table stacks">
        <thead>
          <tr>
            <th scope="col">
              <span className="flex items-center gap-3">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  aria-label="Choose everybody on this page"
                  checked={here}
                  onChange={(e) =>
                    choose(
                      rows.map((r) => r.id),
                      e.target.checked,
                    )
                  }
                />
                Name
              </span>
            </th>
            <th scope="col">E-mail</th>
            <th scope="col">Belongs to</th>
            <th scope="col">Standing</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((x) => (
            <tr key={x.id}>
              <td>
                <span className="flex items-center gap-3">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    aria-label={`Choose ${x.name}`}
                    checked={chosen.has(x.id)}
                    onChange={(e) => choose([x.id], e.target.checked)}
                  />
                  <Link className="link-plain font-medium" href={`${at}/${x.id}`}>
                    {x.name}
                  </Link>
                </span>
              </td>
              <td data-label="E-mail">{x.email}</td>
              <td data-label="Belongs to" className="max-w-72!">
                {x.belongs ?? <span className="font-medium text-accent">no company: they would see nothing</span>}
              </td>
              <td data-label="Standing">
                <span className={`tag ${x.standing === "awaiting approval" ? "border-accent! text-accent" : ""}`}>{x.standing}</span>
                {x.more && <span className="quiet ml-2 text-sm">{x.more}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface BarProps {
  portal: string;
  at: string;
  chosen: readonly string[];
  locale: string;
  roles: Props["roles"];
  leave: () => void;
  children: React.ReactNode;
}

function Bar({ portal, at, chosen, locale, roles, leave, children }: BarProps) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [note, setNote] = useState("");
  const [open, setOpen] = useState(false);
  const [done, setDone] = useState<Extract<Invited, { ok: true }> | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const some = (x: number): string => (x === 1 ? "one person" : `${x.toLocaleString(locale)} people`);
  const act = (send: boolean): void =>
    start(async () => {
      const answer = await answered(inviteMany(portal, { ids: [...chosen], note, send }));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      if (!answer.ok) return;
      if (answer.left.length > 0) setDone(answer);
      else router.push(`${at}/outbox?batch=${answer.batch}`);
      toast.success(
        send ? `Invitations to ${some(answer.written)} are on their way.` : `Invitations to ${some(answer.written)} are ready.`,
      );
    });
  return (
    <section className="grid gap-3 border-b border-base-300 bg-base-200 px-4 py-3" aria-label="The chosen people">
      <div className="flex flex-wrap items-center gap-4">
        <span className="font-medium">{some(chosen.length)}</span>
        {children}
        <button type="button" className="btn btn-sm" onClick={() => setOpen(!open)} aria-expanded={open}>
          Invite…
        </button>
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={leave}>
          Choose none
        </button>
      </div>
      <ManyBar portal={portal} chosen={chosen} roles={roles} some={some} />
      {open && (
        <div className="grid max-w-2xl gap-3">
          <label className="grid gap-1">
            <span className="field-label mb-0!">Words of your own, if you like</span>
            <textarea className="textarea w-full" rows={3} value={note} onChange={(e) => setNote(e.target.value)} />
            <span className="quiet text-sm">
              Each gets a link of their own, good once and for 14 days; an earlier one of theirs is dead then.{" "}
              <Link className="link-plain" href={`${at}/outbox/words`}>
                How it reads
              </Link>
            </span>
          </label>
          <div className="flex flex-wrap gap-3">
            <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={() => act(true)}>
              {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
              Send now
            </button>
            <button type="button" className="btn btn-sm" disabled={busy} onClick={() => act(false)}>
              Make ready without sending
            </button>
          </div>
          {message && (
            <p role="alert" className="field-error">
              {message}
            </p>
          )}
          {done && (
            <div role="status" className="grid gap-1">
              <p>
                {some(done.left.length)} got none:{" "}
                {done.left
                  .slice(0, 8)
                  .map((l) => `${l.name} ${l.why}`)
                  .join("; ")}
                {done.left.length > 8 && " …"}
              </p>
              <Link className="link-plain" href={`${at}/outbox?batch=${done.batch}`}>
                See the {done.written.toLocaleString(locale)} messages
              </Link>
            </div>
          )}
        </div>
      )}
    </section>
  );
}
