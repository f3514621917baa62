"use client";
/** Records that a filter or a setting names: their names are loaded once, what is kept is their ids. */
import { useEffect, useState } from "react";
import type { Offered } from "@/core/schema/offered";
import { RecordPicker as Picker } from "@/ui/forms/record-picker";
import { namesOfRecords, recordsNamed } from "./filters";

interface Props {
  portal: string;
  table: string;
  many: boolean;
  ids: readonly string[];
  onChange: (ids: string[]) => void;
  /** Fills the column it stands in, as its neighbours do. */
  wide?: boolean;
}

/** Records of a table chosen by searching for them. */
export function RecordPicker({ portal, table, many, ids, onChange, wide = false }: Props) {
  const [names, setNames] = useState<Record<string, string>>({});
  const unknown = ids.filter((id) => !(id in names)).join("\n");
  useEffect(() => {
    if (!unknown) return;
    const known = (list: readonly Offered[]): void =>
      setNames((n) => ({ ...n, ...Object.fromEntries(list.map((x) => [x.value, x.label])) }));
    namesOfRecords(portal, table, unknown.split("\n")).then(known, () => {});
  }, [portal, table, unknown]);
  return (
    <span className={wide ? "block w-full" : "inline-block w-64 max-w-full"}>
      <Picker
        label="Find a record by name"
        many={many}
        small={!wide}
        chosen={ids.map((id) => ({ value: id, label: names[id] ?? "…" }))}
        onChange={(chosen) => {
          setNames((n) => ({ ...n, ...Object.fromEntries(chosen.map((x) => [x.value, x.label])) }));
          onChange(chosen.map((x) => x.value));
        }}
        find={(words) => recordsNamed(portal, table, words)}
      />
    </span>
  );
}
