/**
 * For `npm run bench` alone (a build of its own, see next.config.ts): the markup of a portal's list page with constant rows and no data behind it,
 * to measure what access and storage add to a page. The product is built without it.
 */

import { notFound } from "next/navigation";
import type { CSSProperties } from "react";
import { brandTheme } from "@/core/brand/theme";
import { choosesOne, pointsToOne } from "@/core/schema/fields/natures";
import type { FileRef, SeenRecord } from "@/core/schema/seen";
import type { Field, Table } from "@/core/schema/types";
import { sayIn } from "@/core/words/words";
import { ListTable } from "@/features/portal/sections/list/list-table";
import { Header } from "@/features/portal/ui/frame/header";
import { AutoSelect } from "@/ui/forms/auto-submit";
import { Pager } from "@/ui/pager";
import { SlashSearch } from "@/ui/slash-search";

export const dynamic = "force-dynamic";

const NAMES: [string, Field["type"]][] = [
  ["Code", "text"],
  ["Project", "relation"],
  ["Site", "relation"],
  ["Type", "choice"],
  ["Size", "text"],
  ["Material", "choice"],
  ["Stage", "choice"],
  ["Fitted on", "date"],
  ["Photo", "pictures"],
];
const CHOICES = ["One", "Two", "Three", "Four", "Five", "Fitted"].map((name) => ({ id: name, name, tone: "good" as const }));
/** As long as an id is, since every link has one. */
const uuid = (n: number): string => `01a21ac4-712c-7002-b3f2-${String(n).padStart(12, "0")}`;
const photo = (n: number): FileRef => ({
  file: true,
  id: uuid(n),
  name: `sa-${n}.jpg`,
  type: "image/jpeg",
  bytes: 90_000,
  picture: { width: 960, height: 720 },
  at: `/-/files/t_3/${uuid(n)}/f_25/${uuid(n + 1)}/sa-${n}.jpg`,
});
const fields = NAMES.map(
  ([name, type]): Field =>
    ({
      id: name,
      tableId: "t",
      slug: name.toLowerCase(),
      name,
      type,
      options: choosesOne({ type }) ? { choices: CHOICES } : pointsToOne({ type }) ? { target: "t" } : {},
      system: false,
    }) as Field,
);
const table: Table = { id: "t", slug: "signs", name: "Signs", singular: "Sign", kind: "ordinary", labelFieldId: "Code", fields };
const tables = ["Sites", "Projects", "Signs", "Proofs", "Requests", "Invoices", "Documents", "Standards", "Companies", "People"].map(
  (name): Table => ({ ...table, id: name, name, slug: name.toLowerCase() }),
);
const records = Array.from(
  { length: 50 },
  (_, i): SeenRecord => ({
    id: uuid(i),
    fields: {
      Code: `SA-${100 + i}`,
      Project: { id: uuid(700 + i), label: "Entrance and arrival" },
      Site: { id: uuid(800 + i), label: "Staff college" },
      Type: "Door plate",
      Size: "850 × 300 mm",
      Material: "Aluminium",
      Stage: "Fitted",
      "Fitted on": "2026-01-01",
      Photo: i % 5 < 3 ? [photo(100 + i)] : null, // as many as the demo has
    },
  }),
);

export default async function Page({ params }: { params: Promise<{ kind: string }> }) {
  if ((await params).kind !== "list") notFound();
  return (
    <div
      data-theme="elkhorn"
      className="flex min-h-dvh flex-col bg-base-200"
      style={brandTheme({ colour: "#24507a", ground: "#f7f7f4" }) as CSSProperties}
    >
      <Header
        base=""
        name="Fernhill Wayfinding"
        say={sayIn("en-GB")}
        monogram="Fw"
        logo={undefined}
        look="band"
        entries={[...tables.map((t) => ({ id: t.id, name: t.name, to: `/${t.slug}` })), { id: "plans", name: "Plans", to: "/plans" }]}
        person="Dana Achterberg"
        memberships={[]}
        activeId={null}
        readOnly={false}
        leads={false}
      />
      <main className="mx-auto w-full max-w-6xl grow px-4 py-8 md:px-8">
        <h1>Signs</h1>
        <form>
          <SlashSearch label="Search signs" value="" />
          {fields
            .filter((f) => choosesOne(f))
            .map((f) => (
              <AutoSelect key={f.id} aria-label={f.name} name={f.id} defaultValue="">
                {f.options.choices!.map((c) => (
                  <option key={c.id}>{c.name}</option>
                ))}
              </AutoSelect>
            ))}
        </form>
        <ListTable
          table={table}
          columns={fields.map((field) => ({ field, name: field.name }))}
          records={records}
          locale={{ locale: "en-GB", timeZone: "UTC" }}
          base=""
          sortHref={(f, d) => `?sort=${d ? "-" : ""}${f.slug}`}
          href={(t, id) => `/${t}/${id}`}
        />
        <Pager page={1} pages={7} size={50} total={308} locale="en-GB" href={(p) => `?page=${p}`} />
      </main>
    </div>
  );
}
