"use client";
import { useRef, useState, useTransition } from "react";
import { INVITEE_PARTS, type Invitee, type InviteeFile, type InviteePart, inviteesOf, readInvitees } from "@/core/exchange/invitees";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import type { BroughtIn, LookedAt } from "../../invitees";
import { inviteList, lookAtList } from "../../inviting";
import type { CompanyChoice, RoleChoice } from "../forms";
import { HandedOver } from "./handed-over";
import { HowFar } from "./how-far";
import { someAtATime } from "./some-at-a-time";

interface Props {
  portal: string;
  at: string;
  name: string;
  address: string;
  locale: string;
  companies: readonly CompanyChoice[];
  agency: string;
  roles: readonly RoleChoice[];
  /** Where the words of messages are set; null for who may not. */
  words: string | null;
  /** Ids of the roles that allow least, of either side: chosen until somebody chooses otherwise. */
  least: readonly string[];
}
type Parts = Record<InviteePart, readonly number[]>;
type Ask = Parameters<typeof lookAtList>[1]["ask"];

const PART_NAMES: Record<InviteePart, string> = { name: "Name", email: "E-mail", company: "Company", roles: "Roles", password: "Password" };
const [LOOK_AT, INVITE] = [1_000, 100];

export function FromFile({ portal, at, name, address, locale, companies, agency, roles, least, words }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  const [busy, start] = useTransition();
  const [file, setFile] = useState<InviteeFile | null>(null);
  const [parts, setParts] = useState<Parts | null>(null);
  const [ask, setAsk] = useState<Ask>({ company: "", make: false, roles: [...least], by: "link", send: true, note: "" });
  const [seen, setSeen] = useState<readonly LookedAt[] | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const [far, setFar] = useState<number | null>(null);
  const [done, setDone] = useState<readonly BroughtIn[] | null>(null);
  const n = (x: number): string => x.toLocaleString(locale);
  const people = (x: number): string => (x === 1 ? "one person" : `${n(x)} people`);
  const rows = file && parts ? inviteesOf(file, parts) : [];

  const read = (text: string): void => {
    const found = readInvitees(text);
    setDone(null);
    setSeen(null);
    if (typeof found === "string") {
      setMessage(found);
      setFile(null);
      return;
    }
    setMessage(null);
    setFile(found);
    setParts(found.guess);
    look(inviteesOf(found, found.guess), ask);
  };
  const look = (list: readonly Invitee[], how: Ask): void =>
    start(async () => {
      const answers = await someAtATime<Invitee, readonly LookedAt[]>(
        list,
        LOOK_AT,
        async (some) => {
          const answer = await answered(lookAtList(portal, { rows: [...some], ask: how }));
          if (answer && !answer.ok) setMessage(answer.message);
          return answer?.ok ? answer.rows : null;
        },
        () => {},
      );
      setSeen(answers?.flat() ?? null);
    });
  const change = (next: Partial<Ask>): void => {
    const how = { ...ask, ...next };
    setAsk(how);
    if (!("note" in next) && !("send" in next) && rows.length > 0) look(rows, how);
  };
  const place = (part: InviteePart, column: string): void => {
    const next = { ...parts!, [part]: column === "" ? [] : column.split(",").map(Number) };
    setParts(next);
    look(inviteesOf(file!, next), ask);
  };
  const invite = (): void =>
    start(async () => {
      const wrong = new Set(seen?.filter((s) => s.state === "wrong").map((s) => s.line));
      const good = rows.filter((r) => !wrong.has(r.line));
      const answers = await someAtATime<Invitee, BroughtIn>(
        good,
        ask.by === "password" || good.some((r) => r.password) ? 20 : INVITE,
        async (some, before) => {
          const answer = await answered(inviteList(portal, { rows: [...some], ask, ...(before ? { batch: before.batch } : {}) }));
          if (answer && !answer.ok) setMessage(answer.message);
          return answer?.ok ? answer : null;
        },
        setFar,
      );
      setFar(null);
      setDone(answers);
    });

  if (done)
    return (
      <Report done={done} {...{ at, name, address, people, wrong: seen?.filter((s) => s.state === "wrong") ?? [], rows, send: ask.send }} />
    );
  const counted = (state: LookedAt["state"]): number => seen?.filter((s) => s.state === state).length ?? 0;
  const makes = [...new Set(seen?.flatMap((s) => s.makes ?? []))];
  const fit = counted("new") + counted("there");
  const sides = new Set(
    rows.map((r) => (r.company || (ask.company && ask.company !== "agency") ? "client" : ask.company ? "agency" : "client")),
  );
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <section className="sheet grid gap-3 p-5" aria-label="The list">
        <div className="flex flex-wrap items-center gap-3">
          <button type="button" className="btn" onClick={() => chooser.current?.click()}>
            {file ? "Choose another file" : "Choose a CSV file"}
          </button>
          <input
            ref={chooser}
            type="file"
            accept=".csv,.tsv,.txt,text/csv"
            className="sr-only"
            aria-label="CSV file"
            tabIndex={-1}
            onChange={async (e) => {
              const chosen = e.target.files?.[0];
              if (!chosen) return;
              if (chosen.size > 8_000_000) setMessage("This file is too large for a list of people.");
              else read(await chosen.text());
              e.target.value = "";
            }}
          />
          {file && (
            <span className="quiet">
              {people(rows.length)}
              {file.blank > 0 && `, ${n(file.blank)} blank rows left out`}
            </span>
          )}
        </div>
        {!file && (
          <label className="grid gap-1">
            <span className="field-label mb-0!">or paste rows here</span>
            <textarea
              className="textarea w-full font-mono text-sm"
              rows={6}
              placeholder={"Name,E-mail,Company\nDana Achterberg,dana@company.example,Saltmarsh"}
              onPaste={(e) => {
                const pasted = e.clipboardData.getData("text");
                if (pasted.includes("@")) {
                  e.preventDefault();
                  read(pasted);
                }
              }}
              onBlur={(e) => e.target.value.trim() && read(e.target.value)}
            />
          </label>
        )}
        {message && (
          <p role="alert" className="alert alert-error">
            {message}
          </p>
        )}
      </section>
      {file && parts && (
        <>
          <section className="sheet grid gap-4 p-5" aria-label="What the columns are">
            <div className="grid gap-3 sm:grid-cols-5">
              {INVITEE_PARTS.map((part) => (
                <label key={part} className="grid content-start gap-1">
                  <span className="field-label mb-0!">{PART_NAMES[part]}</span>
                  <select className="select select-sm w-full" value={parts[part].join(",")} onChange={(e) => place(part, e.target.value)}>
                    <option value="">none</option>
                    {parts[part].length > 1 && (
                      <option value={parts[part].join(",")}>{parts[part].map((i) => file.columns[i]).join(" and ")}</option>
                    )}
                    {file.columns.map((c, i) => (
                      // biome-ignore lint/suspicious/noArrayIndexKey: columns may be called alike
                      <option key={i} value={String(i)}>
                        {c}
                      </option>
                    ))}
                  </select>
                </label>
              ))}
            </div>
            <div className="grid gap-4 sm:grid-cols-2">
              <label className="grid content-start gap-1">
                <span className="field-label mb-0!">Whose row names no company</span>
                <select className="select w-full" value={ask.company} onChange={(e) => change({ company: e.target.value })}>
                  <option value="">is left out</option>
                  <option value="agency">works at {agency}</option>
                  {companies.map((c) => (
                    <option key={c.id} value={c.id}>
                      belongs to {c.name}
                    </option>
                  ))}
                </select>
              </label>
              <fieldset className="grid content-start gap-1">
                <legend className="field-label">First roles, where the row names none</legend>
                <div className="flex flex-wrap gap-x-5 gap-y-1">
                  {roles
                    .filter((r) => sides.has(r.side))
                    .map((r) => (
                      <label key={r.id} className="flex items-center gap-2">
                        <input
                          type="checkbox"
                          className="checkbox checkbox-sm"
                          checked={ask.roles.includes(r.id)}
                          onChange={(e) => change({ roles: e.target.checked ? [...ask.roles, r.id] : ask.roles.filter((x) => x !== r.id) })}
                        />
                        {r.name}
                      </label>
                    ))}
                </div>
              </fieldset>
            </div>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={ask.make}
                onChange={(e) => change({ make: e.target.checked })}
              />
              Make companies that are not there yet
            </label>
          </section>
          {seen && (
            <section className="sheet grid gap-2 p-5" aria-label="What it does" role="status">
              <h2>
                {n(counted("new"))} new, {n(counted("there"))} here already, {n(counted("wrong"))} left out
              </h2>
              {makes.length > 0 && (
                <p>
                  Companies that are made: {makes.slice(0, 8).join(", ")}
                  {makes.length > 8 && ` and ${n(makes.length - 8)} more`}.
                </p>
              )}
              {counted("wrong") > 0 && (
                <ul className="list-disc pl-5">
                  {seen
                    .filter((s) => s.state === "wrong")
                    .slice(0, 10)
                    .map((s) => (
                      <li key={s.line}>
                        <span className="quiet">Line {n(s.line)}</span> {rows.find((r) => r.line === s.line)?.name}: {s.why}
                      </li>
                    ))}
                  {counted("wrong") > 10 && <li className="quiet">and {n(counted("wrong") - 10)} more</li>}
                </ul>
              )}
            </section>
          )}
          <section className="sheet grid gap-4 p-5" aria-label="How they are invited">
            <div role="radiogroup" aria-label="How they come in first" className="flex flex-wrap gap-x-6 gap-y-2">
              {(["link", "password"] as const).map((by) => (
                <label key={by} className="flex items-center gap-2">
                  <input type="radio" name="by" className="radio radio-sm" checked={ask.by === by} onChange={() => change({ by })} />
                  {by === "link" ? "By a link in a message" : "By a temporary password that you hand over"}
                </label>
              ))}
            </div>
            {ask.by === "link" && (
              <label className="grid max-w-2xl gap-1">
                <span className="field-label mb-0!">Words of your own, if you like</span>
                <textarea className="textarea w-full" rows={2} value={ask.note} onChange={(e) => change({ note: e.target.value })} />
                {words && (
                  <Link className="link-plain justify-self-start text-sm" href={words}>
                    How the message reads
                  </Link>
                )}
              </label>
            )}
            {ask.by === "link" && (
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={ask.send}
                  onChange={(e) => change({ send: e.target.checked })}
                />
                Send now; else made ready without sending
              </label>
            )}
            <div className="flex flex-wrap items-center gap-4">
              <button type="button" className="btn btn-primary" disabled={busy || !seen || fit === 0} onClick={invite}>
                {busy && far === null && <span className="loading loading-spinner loading-xs" aria-hidden />}
                Invite {people(fit)}
              </button>
              {far !== null && <HowFar done={far} of={fit} words="Invited" locale={locale} />}
            </div>
          </section>
        </>
      )}
    </div>
  );
}

interface ReportProps {
  done: readonly BroughtIn[];
  at: string;
  name: string;
  address: string;
  people: (n: number) => string;
  wrong: readonly LookedAt[];
  rows: readonly Invitee[];
  send: boolean;
}

function Report({ done, at, name, address, people, wrong, rows, send }: ReportProps) {
  const invited = done.reduce((sum, d) => sum + d.invited, 0);
  const handed = done.flatMap((d) => d.handed);
  const left = [
    ...wrong.map((w) => ({ line: w.line, name: rows.find((r) => r.line === w.line)?.name ?? "", why: w.why })),
    ...done.flatMap((d) => d.left),
  ];
  const written = invited - handed.length;
  // A line that broke in the middle leaves the rest as it was: said, so that nobody takes them for invited.
  const unreached = rows.length - invited - left.length;
  return (
    <div className="grid gap-5">
      <section className="sheet grid gap-3 p-5 print:hidden" role="status" aria-label="Report">
        <h2>{invited === 0 ? "Nobody is invited" : `${people(invited)} invited`}</h2>
        {written > 0 && (
          <p>
            {send ? "Their messages are on their way." : "Their messages are ready."}{" "}
            <Link className="link-plain" href={`${at}/outbox?batch=${done[0]!.batch}`}>
              See how each goes
            </Link>
          </p>
        )}
        {unreached > 0 && (
          <p role="alert" className="alert alert-error">
            No answer came for the rest: {people(unreached)} may not be invited. Look among the people, then choose the list again with
            those alone.
          </p>
        )}
        {left.length > 0 && (
          <>
            <p>{people(left.length)} left out:</p>
            <ul className="list-disc pl-5">
              {left.map((l) => (
                <li key={l.line}>
                  <span className="quiet">Line {l.line}</span> {l.name}: {l.why}
                </li>
              ))}
            </ul>
          </>
        )}
        <Link className="link-plain justify-self-start" href={at}>
          To the people
        </Link>
      </section>
      {handed.length > 0 && <HandedOver portal={name} address={address} given={handed} />}
    </div>
  );
}
