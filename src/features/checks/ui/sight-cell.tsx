import type { Cell } from "@/core/access/sightlines";

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

/** A plain link, followed by the table's own handler: hundreds of them come and go while one scrolls. One figure with a quiet bar; read aloud as a sentence, for eyes a number, its share and its hidden fields. */
export function SightCell({ cell, table, who, why, href, number }: Props) {
  const [seen, changed, removed, hidden, partly] = cell;
  const words =
    seen === 0
      ? `${who} sees none of ${table.name}. ${why}`
      : `${who} sees ${seen} of ${table.all} ${table.name}, may change ${changed} and remove ${removed}${fieldsWords(hidden, "never seen")}${fieldsWords(partly, "seen on some records only")}`;
  const share = `${Math.max(4, (100 * seen) / Math.max(1, table.all))}%`;
  return (
    <td className="num">
      <a href={href} aria-label={words} title={words} className="block px-3 py-1.5">
        <span className={seen === 0 ? "quiet" : "font-medium"}>{number.format(seen)}</span>
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
