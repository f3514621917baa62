"use client";
/** Several are invited from a list: a file or pasted rows, what it would do, and what it did. */
import { useState, useTransition } from "react";
import { type Invitee, type InviteeFile, type InviteePart, inviteesOf, readInvitees } from "@/core/exchange/invitees";
import { answered } from "@/ui/answered";
import type { BroughtIn, LookedAt } from "../../invitees";
import { inviteList, lookAtList } from "../../inviting";
import type { CompanyChoice, RoleChoice } from "../forms";
import { type Ask, HowInvited, type Parts, Report, TheList, WhatColumnsAre, WhatItDoes } from "./from-file-parts";
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

const [LOOK_AT, INVITE] = [1_000, 100];

export function FromFile({ portal, at, name, address, locale, companies, agency, roles, least, words }: Props) {
  const { busy, file, parts, ask, seen, message, setMessage, far, done, people, rows, read, change, place, invite } = useInvitees({
    portal,
    locale,
    least,
  });

  if (done)
    return (
      <Report done={done} {...{ at, name, address, people, wrong: seen?.filter((s) => s.state === "wrong") ?? [], rows, send: ask.send }} />
    );
  const counted = (state: LookedAt["state"]): number => seen?.filter((s) => s.state === state).length ?? 0;
  const fit = counted("new") + counted("there");
  const sides = new Set(
    rows.map((r) => (r.company || (ask.company && ask.company !== "agency") ? "client" : ask.company ? "agency" : "client")),
  );
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <TheList file={file} rows={rows.length} message={message} locale={locale} onText={read} onMessage={setMessage} />
      {file && parts && (
        <>
          <WhatColumnsAre {...{ file, parts, place, ask, change, agency, companies }} roles={roles.filter((r) => sides.has(r.side))} />
          {seen && <WhatItDoes seen={seen} rows={rows} locale={locale} />}
          <HowInvited ask={ask} change={change} words={words}>
            <button type="button" className="btn btn-primary" disabled={busy || !seen || fit === 0} onClick={invite}>
              {busy && far === null && <span className="loading loading-spinner loading-xs" aria-hidden />}
              Invite {people(fit)}
            </button>
            {far !== null && <HowFar done={far} of={fit} words="Invited" locale={locale} />}
          </HowInvited>
        </>
      )}
    </div>
  );
}

/** The file, what would become of each of its lines, and the way there. */
function useInvitees({ portal, locale, least }: Pick<Props, "portal" | "locale" | "least">) {
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
  return { busy, file, parts, ask, seen, message, setMessage, far, done, people, rows, read, change, place, invite };
}
