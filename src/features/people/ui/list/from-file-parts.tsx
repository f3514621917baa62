"use client";
/** Parts of inviting from a list: where it comes from, what its columns are, what it would do, how they are invited, and what came of it. */
import { type ReactNode, useRef } from "react";
import { INVITEE_PARTS, type Invitee, type InviteeFile, type InviteePart } from "@/core/exchange/invitees";
import { Link } from "@/ui/link";
import type { BroughtIn, LookedAt } from "../../invitees";
import type { lookAtList } from "../../inviting";
import type { CompanyChoice, RoleChoice } from "../forms";
import { HandedOver } from "./handed-over";

export type Parts = Record<InviteePart, readonly number[]>;
export type Ask = Parameters<typeof lookAtList>[1]["ask"];
type Change = (next: Partial<Ask>) => void;

const PART_NAMES: Record<InviteePart, string> = { name: "Name", email: "E-mail", company: "Company", roles: "Roles", password: "Password" };
const MOST_BYTES = 8_000_000;

interface ListProps {
  file: InviteeFile | null;
  rows: number;
  message: string | null;
  locale: string;
  onText: (text: string) => void;
  onMessage: (message: string) => void;
}

export function TheList({ file, rows, message, locale, onText, onMessage }: ListProps) {
  const chooser = useRef<HTMLInputElement>(null);
  const n = (x: number): string => x.toLocaleString(locale);
  return (
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
            if (chosen.size > MOST_BYTES) onMessage("This file is too large for a list of people.");
            else onText(await chosen.text());
            e.target.value = "";
          }}
        />
        {file && (
          <span className="quiet">
            {rows === 1 ? "one person" : `${n(rows)} people`}
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
                onText(pasted);
              }
            }}
            onBlur={(e) => e.target.value.trim() && onText(e.target.value)}
          />
        </label>
      )}
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
    </section>
  );
}

interface ColumnsProps {
  file: InviteeFile;
  parts: Parts;
  place: (part: InviteePart, column: string) => void;
  ask: Ask;
  change: Change;
  agency: string;
  companies: readonly CompanyChoice[];
  /** Roles that fit somebody of the list. */
  roles: readonly RoleChoice[];
}

export function WhatColumnsAre({ file, parts, place, ask, change, agency, companies, roles }: ColumnsProps) {
  return (
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
            {roles.map((r) => (
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
        <input type="checkbox" className="checkbox checkbox-sm" checked={ask.make} onChange={(e) => change({ make: e.target.checked })} />
        Make companies that are not there yet
      </label>
    </section>
  );
}

export function WhatItDoes({ seen, rows, locale }: { seen: readonly LookedAt[]; rows: readonly Invitee[]; locale: string }) {
  const n = (x: number): string => x.toLocaleString(locale);
  const counted = (state: LookedAt["state"]): number => seen.filter((s) => s.state === state).length;
  const makes = [...new Set(seen.flatMap((s) => s.makes ?? []))];
  return (
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
  );
}

interface HowProps {
  ask: Ask;
  change: Change;
  /** Where the words of messages are set; null for who may not. */
  words: string | null;
  children: ReactNode;
}

export function HowInvited({ ask, change, words, children }: HowProps) {
  return (
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
          <input type="checkbox" className="checkbox checkbox-sm" checked={ask.send} onChange={(e) => change({ send: e.target.checked })} />
          Send now; else made ready without sending
        </label>
      )}
      <div className="flex flex-wrap items-center gap-4">{children}</div>
    </section>
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

export function Report({ done, at, name, address, people, wrong, rows, send }: ReportProps) {
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
