"use client";
/** Settings of lists, and of what belongs to a record. */
import type { SectionOf } from "@/core/pages/page";
import { choosesOne, holdsPictures, isDated, isSummed, pointsToSeveral } from "@/core/schema/fields/natures";
import type { FieldType } from "@/core/schema/types";
import type { Source } from "@/core/sections/kind";
import { type ListLook, type ListSettings, LOOKS } from "@/core/sections/list";
import type { OfferedTable } from "../../../queries";
import { type SettingsProps, useOffered } from "../around";
import { Amount, Check, Choose, FieldsPicker, Several, Words } from "../controls";
import { FilterButton } from "../filter-button";

const LOOK_WORDS: Record<ListLook, string> = {
  rows: "Rows",
  cards: "Cards",
  board: "Board, by a choice",
  calendar: "Calendar, by a date",
  gallery: "Pictures",
  few: "The first few, for a home page",
};
const BY: Partial<Record<ListLook, { label: string; fits: (f: { type: FieldType }) => boolean }>> = {
  board: { label: "Columns by", fits: choosesOne },
  calendar: { label: "On the days of", fits: isDated },
  gallery: { label: "Pictures of", fits: holdsPictures },
};

export function ListPanel({ section, onChange }: SettingsProps<SectionOf<"list">>) {
  const { tables } = useOffered();
  const { config } = section;
  const table = tables.find((t) => t.id === config.source.table);
  return (
    <>
      <Choose
        label="Records of"
        value={config.source.table}
        options={tables.map((t) => ({ value: t.id, label: t.name }))}
        onChange={(id) =>
          // With another table nothing that was picked still fits.
          onChange({ ...config, source: { table: id, filter: null, sort: [] }, by: null, columns: null, filters: null, sums: [], acts: [] })
        }
      />
      {table && <ListSettingsPanel config={config} table={table} onChange={(more) => onChange({ ...config, ...more })} />}
    </>
  );
}

export function RelatedPanel({ section, onChange }: SettingsProps<SectionOf<"related">>) {
  const { tables, about } = useOffered();
  const { config } = section;
  const ways = tables.flatMap((t) =>
    t.fields.filter((f) => about && f.target === about.id).map((f) => ({ value: f.id, label: `${t.name}, by ${f.name}`, table: t.id })),
  );
  const table = tables.find((t) => t.id === config.source.table);
  return (
    <>
      <Choose
        label="What points here"
        value={config.through}
        options={ways}
        onChange={(through) => {
          const way = ways.find((w) => w.value === through);
          if (way)
            onChange({
              ...config,
              through,
              source: { table: way.table, filter: null, sort: [] },
              by: null,
              columns: null,
              filters: null,
              sums: [],
              acts: [],
            });
        }}
      />
      {table && <ListSettingsPanel config={config} table={table} onChange={(more) => onChange({ ...config, ...more })} />}
    </>
  );
}

interface Panel {
  config: ListSettings & { source: Source };
  table: OfferedTable;
  onChange: (more: Partial<ListSettings & { source: Source }>) => void;
}

function ListSettingsPanel({ config, table, onChange }: Panel) {
  const { acts, pages } = useOffered();
  const by = BY[config.look];
  const [sort] = config.source.sort;
  const toPages = pages.filter((p) => p.about === table.id);
  return (
    <>
      <Choose
        label="Look"
        value={config.look}
        options={LOOKS.map((l) => ({ value: l, label: LOOK_WORDS[l] }))}
        onChange={(look) => onChange({ look: look as ListLook, by: null })}
      />
      {by && (
        <Choose
          label={by.label}
          value={config.by ?? ""}
          options={[
            { value: "", label: "The first that fits" },
            ...table.fields.filter((f) => by.fits(f)).map((f) => ({ value: f.id, label: f.name })),
          ]}
          onChange={(v) => onChange({ by: v || null })}
        />
      )}
      <FilterButton
        label="Only those"
        table={table.id}
        value={config.source.filter}
        onChange={(filter) => onChange({ source: { ...config.source, filter } })}
      />
      <FieldsPicker
        label="Columns"
        fields={table.fields}
        value={config.columns}
        make={(field) => ({ field })}
        onChange={(columns) => onChange({ columns })}
      />
      <ListOrder sort={sort} table={table} onChange={onChange} config={config} />
      <HowMany config={config} onChange={onChange} />
      <div>
        <Check label="A box to search in" value={config.search} onChange={(search) => onChange({ search })} />
        <Check label="A way to add one, where that is granted" value={config.adds} onChange={(adds) => onChange({ adds })} />
        <Check label="Which ones somebody has read" value={config.reads ?? false} onChange={(reads) => onChange({ reads })} />
        <Check label="A download, where that is granted" value={config.downloads} onChange={(downloads) => onChange({ downloads })} />
      </div>
      <Several
        label="Narrowed by"
        none={config.filters === null ? "all choices" : "nothing"}
        options={table.fields.filter((f) => choosesOne(f)).map((f) => ({ value: f.id, label: f.name }))}
        value={config.filters ?? []}
        onChange={(filters) => onChange({ filters })}
      />
      <Several
        label="Summed below"
        none="nothing"
        options={table.fields.filter((f) => isSummed(f)).map((f) => ({ value: f.id, label: f.name }))}
        value={config.sums}
        onChange={(sums) => onChange({ sums })}
      />
      <Several
        label="Buttons"
        none="none"
        options={acts.filter((a) => a.table === table.id && a.on === "change").map((a) => ({ value: a.id, label: a.name }))}
        value={config.acts}
        onChange={(next) => onChange({ acts: next })}
      />
      <OpensWhat config={config} toPages={toPages} onChange={onChange} />
      <Words
        label="Where there is nothing"
        value={config.empty}
        placeholder="Elkhorn's own sentence"
        onChange={(empty) => onChange({ empty })}
      />
    </>
  );
}

interface ListOrderProps {
  readonly sort: Source["sort"][number] | undefined;
  readonly table: OfferedTable;
  readonly onChange: Panel["onChange"];
  readonly config: Panel["config"];
}

/** In which order records stand. */
function ListOrder({ sort, table, onChange, config }: ListOrderProps) {
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choose
        label="In order of"
        value={sort?.field ?? ""}
        options={[
          { value: "", label: "The name" },
          ...table.fields.filter((f) => !pointsToSeveral(f)).map((f) => ({ value: f.id, label: f.name })),
        ]}
        onChange={(field) =>
          onChange({ source: { ...config.source, sort: field ? [{ field, descending: sort?.descending ?? false }] : [] } })
        }
      />
      {sort && (
        <Choose
          label="From"
          value={sort.descending ? "down" : "up"}
          options={[
            { value: "up", label: "least to most" },
            { value: "down", label: "most to least" },
          ]}
          onChange={(v) => onChange({ source: { ...config.source, sort: [{ ...sort, descending: v === "down" }] } })}
        />
      )}
    </div>
  );
}

/** How many stand on a page. */
function HowMany({
  config,
  onChange,
}: {
  config: {
    look: "rows" | "cards" | "board" | "calendar" | "gallery" | "few";
    by: string | null;
    columns: { field: string; name?: string | undefined }[] | null;
    search: boolean;
    filters: string[] | null;
    sums: string[];
    size: number;
    opens: "record" | "nothing" | { page: string };
    empty: string;
    adds: boolean;
    downloads: boolean;
    acts: string[];
    reads?: boolean | undefined;
  } & { source: Source };
  onChange: (
    more: Partial<
      {
        look: "rows" | "cards" | "board" | "calendar" | "gallery" | "few";
        by: string | null;
        columns: { field: string; name?: string | undefined }[] | null;
        search: boolean;
        filters: string[] | null;
        sums: string[];
        size: number;
        opens: "record" | "nothing" | { page: string };
        empty: string;
        adds: boolean;
        downloads: boolean;
        acts: string[];
        reads?: boolean | undefined;
      } & { source: Source }
    >,
  ) => void;
}) {
  return (
    <Amount
      label={config.look === "few" ? "How many" : "On a page"}
      value={config.size}
      least={1}
      most={200}
      onChange={(size) => onChange({ size })}
    />
  );
}

interface OpensWhatProps {
  readonly config: Panel["config"];
  readonly toPages: { id: string; name: string; about: string | null }[];
  readonly onChange: Panel["onChange"];
}

/** What pressing one opens. */
function OpensWhat({ config, toPages, onChange }: OpensWhatProps) {
  return (
    <Choose
      label="Pressing one opens"
      value={typeof config.opens === "object" ? config.opens.page : config.opens}
      options={[
        { value: "record", label: "its page" },
        { value: "nothing", label: "nothing" },
        ...toPages.map((p) => ({ value: p.id, label: `the page ${p.name}` })),
      ]}
      onChange={(v) => onChange({ opens: v === "record" || v === "nothing" ? v : { page: v } })}
    />
  );
}
