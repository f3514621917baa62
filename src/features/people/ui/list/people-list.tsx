"use client";
/** The people that fit, several of whom may be invited in one act. */
import { useRouter } from "next/navigation";
import type { ReactNode } from "react";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import type { HandedOver as HandedOverRow, InvitedAll } from "../../invitations";
import { everyoneLike, type HandedAll, type Invited, inviteMany, passwordsForMany } from "../../inviting";
import type { PersonRow, Search } from "../../queries";
import { HandedOver } from "./handed-over";
import { HowFar } from "./how-far";
import { ManyBar } from "./many-bar";
import { PeopleRows } from "./people-rows";
import { someAtATime } from "./some-at-a-time";

/** More are invited so many at a time. */
const AT_ONCE = 200;

interface Props {
  portal: string;
  at: string;
  rows: readonly PersonRow[];
  /** All that fit, on other pages too. */
  total: number;
  search: Search;
  locale: string;
  roles: readonly { readonly id: string; readonly name: string }[];
  grouped: boolean;
  /** Chosen from the beginning. */
  picked: readonly string[];
  /** The portal's name, for sheets that are handed over. */
  name: string;
  address: string;
  /** Where the words of messages are set; null for who may not. */
  words: string | null;
}

export function PeopleList({ portal, at, rows, total, search, locale, roles, grouped, picked, name, address, words }: Props) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set(picked));
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
        <Bar {...{ portal, at, locale, roles, name, address, words }} chosen={[...chosen]} leave={() => setChosen(new Set())}>
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
            <th scope="col">Belongs to</th>
            <th scope="col">Comes in by</th>
            <th scope="col">Here since</th>
            <th scope="col">Standing</th>
          </tr>
        </thead>
        <PeopleRows rows={rows} grouped={grouped} chosen={chosen} choose={choose} at={at} />
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
  name: string;
  address: string;
  words: string | null;
  leave: () => void;
  children: React.ReactNode;
}

function Bar({ portal, at, chosen, locale, roles, name, address, words, leave, children }: BarProps) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [note, setNote] = useState("");
  const [open, setOpen] = useState(false);
  const [done, setDone] = useState<Extract<Invited, { ok: true }> | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const some = (x: number): string => (x === 1 ? "one person" : `${x.toLocaleString(locale)} people`);
  const [far, setFar] = useState<number | null>(null);
  const [handed, setHanded] = useState<readonly HandedOverRow[] | null>(null);
  const byPassword = (): void =>
    start(async () => {
      setDone(null);
      const answers = await someAtATime<string, Extract<HandedAll, { ok: true }>>(
        chosen,
        20,
        async (some) => {
          const answer = await answered(passwordsForMany(portal, [...some]));
          setMessage(answer && !answer.ok ? answer.message : null);
          return answer?.ok ? answer : null;
        },
        setFar,
      );
      setFar(null);
      if (!answers) return;
      setHanded(answers.flatMap((a) => a.given));
      const left = answers.flatMap((a) => a.left);
      if (left.length > 0) setDone({ ok: true, batch: "", written: 0, left });
    });
  const act = (send: boolean): void =>
    start(async () => {
      const answers = await someAtATime<string, Extract<Invited, { ok: true }>>(
        chosen,
        AT_ONCE,
        async (some, before) => {
          const answer = await answered(inviteMany(portal, { ids: [...some], note, send, ...(before ? { batch: before.batch } : {}) }));
          setMessage(answer && !answer.ok ? answer.message : null);
          return answer?.ok ? answer : null;
        },
        setFar,
      );
      setFar(null);
      if (!answers) return;
      const answer = {
        ok: true as const,
        batch: answers[0]!.batch,
        written: answers.reduce((sum, a) => sum + a.written, 0),
        left: answers.flatMap((a) => a.left),
      };
      if (answer.left.length > 0) setDone(answer);
      else router.push(`${at}/outbox?batch=${answer.batch}`);
      toast.success(
        send ? `Invitations to ${some(answer.written)} are on their way.` : `Invitations to ${some(answer.written)} are ready.`,
      );
    });
  return (
    <section className="grid gap-3 border-b border-base-300 bg-base-200 px-4 py-3" aria-label="The chosen people">
      <BarButtons some={some} chosen={chosen} setOpen={setOpen} open={open} leave={leave}>
        {children}
      </BarButtons>
      <ManyBar portal={portal} chosen={chosen} roles={roles} some={some} leave={leave} />
      {open && (
        <div className="grid max-w-2xl gap-3">
          <NoteBox note={note} setNote={setNote} words={words} />
          <SendButtons busy={busy} act={act} byPassword={byPassword} />
          {far !== null && chosen.length > AT_ONCE && <HowFar done={far} of={chosen.length} words="Invited" locale={locale} />}
          {message && (
            <p role="alert" className="field-error">
              {message}
            </p>
          )}
          {done && <GotNone some={some} done={done} at={at} locale={locale} />}
          {handed && handed.length > 0 && <HandedOver portal={name} address={address} given={handed} />}
        </div>
      )}
    </section>
  );
}

interface NoteBoxProps {
  readonly note: string;
  readonly setNote: Dispatch<SetStateAction<string>>;
  readonly words: string | null;
}

/** Words of one's own. */
function NoteBox({ note, setNote, words }: NoteBoxProps) {
  return (
    <label className="grid gap-1">
      <span className="field-label mb-0!">Words of your own, if you like</span>
      <textarea className="textarea w-full" rows={3} value={note} onChange={(e) => setNote(e.target.value)} />
      <span className="quiet text-sm">
        Each gets a link of their own, good once and for 14 days; an earlier one of theirs is dead then.{" "}
        {words && (
          <Link className="link-plain" href={words}>
            How it reads
          </Link>
        )}
      </span>
    </label>
  );
}

interface SendButtonsProps {
  readonly busy: boolean;
  readonly act: (send: boolean) => void;
  readonly byPassword: () => void;
}

/** Now, or later. */
function SendButtons({ busy, act, byPassword }: SendButtonsProps) {
  return (
    <div className="flex flex-wrap gap-3">
      <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={() => act(true)}>
        {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
        Send now
      </button>
      <button type="button" className="btn btn-sm" disabled={busy} onClick={() => act(false)}>
        Make ready without sending
      </button>
      <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={byPassword}>
        Temporary passwords instead
      </button>
    </div>
  );
}

interface GotNoneProps {
  readonly some: (x: number) => string;
  readonly done: { ok: true } & InvitedAll;
  readonly at: string;
  readonly locale: string;
}

/** Who got none, and why. */
function GotNone({ some, done, at, locale }: GotNoneProps) {
  return (
    <div role="status" className="grid gap-1">
      <p>
        {some(done.left.length)} got none:{" "}
        {done.left
          .slice(0, 8)
          .map((l) => `${l.name} ${l.why}`)
          .join("; ")}
        {done.left.length > 8 && " …"}
      </p>
      {done.batch && (
        <Link className="link-plain" href={`${at}/outbox?batch=${done.batch}`}>
          See the {done.written.toLocaleString(locale)} messages
        </Link>
      )}
    </div>
  );
}

interface BarButtonsProps {
  readonly some: (x: number) => string;
  readonly chosen: readonly string[];
  readonly children: ReactNode;
  readonly setOpen: Dispatch<SetStateAction<boolean>>;
  readonly open: boolean;
  readonly leave: () => void;
}

/** How many are chosen, and what can be done. */
function BarButtons({ some, chosen, children, setOpen, open, leave }: BarButtonsProps) {
  return (
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
  );
}
