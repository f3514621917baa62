import type { Cell } from "@/core/review/sightlines";

interface Props {
  cell: Cell;
  table: { name: string; all: number };
  who: string;
  /** For a zero. */
  why: string;
  href: string;
  number: Intl.NumberFormat;
}

const fieldsWords = (n: number, how: string): string => (n === 0 ? "" : `, ${n} ${n === 1 ? "field" : "fields"} ${how}`);

/**
 * One figure with a quiet bar; read aloud as a sentence, for eyes a number, its share and its hidden fields. A plain link, followed by
 * the table's own handler: hundreds of them come and go while one scrolls.
 */
export function SightCell({ cell, table, who, why, href, number }: Props) {
  const [seen, changed, removed, hidden, partly] = cell;
  const n = (x: number): string => number.format(x);
  // The words for a screen reader contain the figure exactly as the cell shows it (WCAG 2.5.3).
  const [before, after] =
    seen === 0
      ? [`${who} sees `, ` of ${table.name}. ${why}`]
      : [
          `${who} sees `,
          ` of ${n(table.all)} ${table.name}, may change ${n(changed)} and remove ${n(removed)}${fieldsWords(hidden, "never seen")}${fieldsWords(partly, "seen on some records only")}`,
        ];
  const share = `${Math.max(4, (100 * seen) / Math.max(1, table.all))}%`;
  return (
    <td className="num">
      <a href={href} title={`${before}${n(seen)}${after}`} className="relative block px-3 py-1.5">
        <span className="sr-only">{before}</span>
        <span className={seen === 0 ? "quiet" : "font-medium"}>{n(seen)}</span>
        <span className="sr-only">{after}</span>
        <span aria-hidden className="mt-1 flex h-2 items-center justify-end gap-1.5 text-[0.72rem] leading-none">
          {seen > 0 && (
            <>
              <span className="quiet">
                {hidden > 0 && `−${hidden}`}
                {partly > 0 && ` ±${partly}`}
              </span>
              <span className="block h-1 w-12 overflow-hidden rounded bg-base-300">
                <span className="block h-full bg-primary" style={{ width: share }} />
              </span>
            </>
          )}
        </span>
      </a>
    </td>
  );
}
