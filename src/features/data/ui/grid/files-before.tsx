"use client";
/** What a field of files held before: opened, or put back. */
import { useEffect, useState } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import type { EarlierFile } from "@/data/files/earlier";
import { answered } from "@/ui/answered";
import { filesBefore } from "../../actions";

interface Held {
  readonly value: string;
  readonly label: string;
}
interface Props {
  portal: string;
  field: string;
  record: string;
  held: readonly Held[];
  locale: Locale;
  add: (f: Held) => void;
}

export function FilesBefore({ portal, field, record, held, locale, add }: Props) {
  const [all, setAll] = useState<readonly EarlierFile[]>([]);
  useEffect(() => {
    void answered(filesBefore(portal, field, record, [])).then((found) => found && setAll(found));
  }, [portal, field, record]);
  const before = all.filter((f) => !held.some((h) => h.value === f.id));
  if (before.length === 0) return null;
  const day = (at: string): string =>
    new Intl.DateTimeFormat(locale.locale, { dateStyle: "medium", timeStyle: "short", timeZone: locale.timeZone }).format(new Date(at));
  return (
    <details className="border-t border-base-300 pt-2 text-sm">
      <summary className="cursor-pointer">{before.length === 1 ? "One file before" : `${before.length} files before`}</summary>
      <ul className="mt-1.5 grid gap-1.5">
        {before.map((f) => (
          <li key={f.id}>
            <a className="link-plain" href={f.at} target="_blank" rel="noreferrer">
              {f.name}
            </a>
            <span className="quiet block">
              from {day(f.from)}
              {f.until && ` to ${day(f.until)}`}
            </span>
            <button type="button" className="link-plain" onClick={() => add({ value: f.id, label: f.name })}>
              Put it back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
