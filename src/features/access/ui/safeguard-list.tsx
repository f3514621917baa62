/** Each safeguard with how it stands; a broken one names who breaks it and by which records. */
import { Check, X } from "lucide-react";
import { breachWords } from "@/core/access/words/safeguard-words";
import { type Breaker, holds, type Verdict } from "@/office/checking";
import { Link } from "@/ui/link";
import { UndoableButton } from "@/ui/undoable-button";
import { restoreSafeguard, withdrawSafeguard } from "../safeguard-actions";

interface Props {
  portal: string;
  at: string;
  /** Revision of the draft; null for staff who may not change it. */
  revision: number | null;
  verdicts: readonly Verdict[];
  names: { table: (id: string) => string; field: (id: string) => string; slug: (table: string) => string };
  locale: string;
}

export function SafeguardList({ portal, at, revision, verdicts, names, locale }: Props) {
  const n = new Intl.NumberFormat(locale);
  return (
    <ul className="sheet divide-y divide-base-300/60">
      {verdicts.map((v) => (
        <li key={v.safeguard.id} className="flex flex-wrap items-start justify-between gap-x-4 gap-y-1 px-4 py-3">
          <div className="flex min-w-0 flex-1 basis-80 gap-3">
            {holds(v) ? (
              <Check size={18} className="mt-0.5 shrink-0 text-success" aria-hidden />
            ) : (
              <X size={18} className="mt-0.5 shrink-0 text-accent" aria-hidden />
            )}
            <div className="min-w-0">
              <p className="font-medium">{v.sentence}</p>
              {holds(v) ? (
                <p className="quiet text-sm">{holdsWords(v.asked, n)}</p>
              ) : (
                <p className="text-sm font-medium text-accent">
                  {v.problems.length > 0 ? `${v.problems.join(" ")} Withdraw it, or say it anew.` : `Broken by ${n.format(v.broken)}:`}
                </p>
              )}
              {v.breakers.length > 0 && (
                <ul className="mt-1 grid gap-0.5 text-sm">
                  {v.breakers.map((b) => (
                    <li key={`${b.as} ${b.name} ${b.company}`}>
                      <BreakerWords v={v} b={b} at={`${at}/check/${names.slug(v.safeguard.table)}`} names={names} locale={locale} />
                    </li>
                  ))}
                  {v.broken > v.breakers.length && <li className="quiet">and {n.format(v.broken - v.breakers.length)} more</li>}
                </ul>
              )}
            </div>
          </div>
          {revision !== null && (
            <UndoableButton
              act={withdrawSafeguard.bind(null, portal, v.safeguard.id, revision)}
              undo={restoreSafeguard.bind(null, portal)}
              done="The safeguard is withdrawn from the draft."
              label={`Withdraw: ${v.sentence}`}
            >
              Withdraw
            </UndoableButton>
          )}
        </li>
      ))}
    </ul>
  );
}

function holdsWords(asked: number | null, n: Intl.NumberFormat): string {
  if (asked === null) return "Holds.";
  if (asked === 0) return "Holds: nobody is meant by it now.";
  return `Holds for ${asked === 1 ? "one person" : `${n.format(asked)} people`}.`;
}

interface WordsProps {
  v: Verdict;
  b: Breaker;
  at: string;
  names: Props["names"];
  locale: string;
}

function BreakerWords({ v, b, at, names, locale }: WordsProps) {
  const { claim, table } = v.safeguard;
  const field = claim.kind === "field" ? names.field(claim.field) : "";
  const says = breachWords(claim, b.n, b.adds, names.table(table), field, locale);
  const where = [b.company, b.roles].filter(Boolean).join(", ");
  const more = b.n - b.examples.length;
  return (
    <>
      {b.name}
      {where && <span className="quiet"> ({where})</span>} {says}
      {b.later && " once grants that begin later have begun"}
      {b.examples.length > 0 && ": "}
      {b.examples.map((r, i) => (
        <span key={r.id}>
          {i > 0 && ", "}
          {b.as ? (
            <Link className="link-plain" href={`${at}/${r.id}?as=${encodeURIComponent(b.as)}&of=draft`}>
              {r.label}
            </Link>
          ) : (
            r.label
          )}
        </span>
      ))}
      {b.examples.length > 0 && more > 0 && ` and ${more.toLocaleString(locale)} more`}.
    </>
  );
}
