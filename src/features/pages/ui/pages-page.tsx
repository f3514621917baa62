/** All pages of the portal, its menu, and where each role lands. */

import { inOrder, type Page } from "@/core/pages/page";
import { HOME, listPageId } from "@/core/pages/ready";
import { draftMoves } from "@/data/definition/versions";
import { listPortals } from "@/data/installation/portals";
import { doorSettings } from "@/identity/doors/settings";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { DraftSteps } from "@/office/ui/draft-steps";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import type { PagesView } from "../queries";
import { forWhom, offered, pagesView, problemsOf, rolesThatSee } from "../queries";
import { CarryForm } from "./carry-form";
import { LandingForm } from "./landing-form";
import { MenuForm } from "./menu-form";
import { NewPage } from "./new-page";
import { PageActs } from "./page-acts";

/** All pages of a portal, its navigation, and what was thrown away. */
export function PagesPage({ p }: { p: OfficePortal }) {
  const v = pagesView(p);
  const pages = v.book.pages;
  const again = offered(v);
  const tables = v.schema.tables.map((t) => ({ id: t.id, name: t.name, singular: t.singular }));
  return (
    <div className="grid gap-8 [&>*]:min-w-0">
      <div className="grid gap-5">
        <div className="flex flex-wrap items-end justify-between gap-3">
          <div>
            <h1>Pages</h1>
            <p className="quiet mt-1 max-w-prose">
              Each table that a grant opens has a list and a sheet, ready-made, until you lay them out yourself. A page shows less than the
              grants open at most, never more.
            </p>
          </div>
          <DraftSteps portal={p.slug} revision={v.revision} parts={["pages"]} {...draftMoves(p.file, p.owner, ["pages"])} />
        </div>
        <div className="flex flex-wrap items-start gap-3">
          <NewPage portal={p.slug} revision={v.revision} at={p.at} tables={tables} />
          <CarryForm portal={p.slug} revision={v.revision} others={listPortals(p.owner).filter((x) => x.slug !== p.slug)} onto={null} />
        </div>
        {pages.length === 1 && (
          <div className="sheet">
            <Empty title="Only the home page yet">Open a table to a role under Access, and its pages stand here.</Empty>
          </div>
        )}
        <PageList pages={pages} v={v} p={p} />
        {again.length > 0 && (
          <p className="text-sm">
            Thrown away: {again.map((x) => x.name).join(", ")}.{" "}
            <PageActs portal={p.slug} revision={v.revision} page={again[0]!.id} name={again[0]!.name} back />
          </p>
        )}
      </div>
      <MenuForm
        portal={p.slug}
        revision={v.revision}
        entries={inOrder(v.definition.navigation)}
        pages={pages.filter((x) => x.about === null).map((x) => ({ id: x.id, name: x.name }))}
        byItself={pages.filter((x) => x.about === null).map((x) => x.name)}
      />
      <LandingForm
        portal={p.slug}
        revision={v.revision}
        roles={v.definition.roles.filter((r) => r.side !== "visitor").map((r) => ({ id: r.id, name: r.name }))}
        landing={Object.fromEntries([
          ...Object.entries(doorSettings(p.file).landing).map(([role, table]) => [role, listPageId(table)]),
          ...Object.entries(v.definition.landing).map(([role, l]) => [role, l.page === HOME ? "" : l.page]),
        ])}
        pages={pages.filter((x) => x.about === null).map((x) => ({ id: x.id, name: x.name }))}
      />
    </div>
  );
}

interface PageListProps {
  readonly pages: readonly Page[];
  readonly v: PagesView;
  readonly p: OfficePortal;
}

/** All pages. */
function PageList({ pages, v, p }: PageListProps) {
  return (
    <FramedTable columns={[{ name: "Page" }, { name: "Address" }, { name: "For" }, { name: "Who sees something" }, { name: "" }]}>
      {pages.map((page) => {
        const wrong = [...problemsOf(v, page).values()].filter((x) => x.length > 0).length;
        return (
          <tr key={page.id}>
            <td className="font-medium">
              <Link className="link-plain" href={`${p.at}/pages/${encodeURIComponent(page.id)}`}>
                {page.name}
              </Link>
              <span className="quiet block font-normal text-sm">
                {v.book.ready.has(page.id) ? "ready-made" : "laid out"}
                {wrong > 0 && <span className="text-warning">{`, ${wrong} of its sections need mending`}</span>}
              </span>
            </td>
            <td data-label="Address">
              /{page.address}
              {page.about && <span className="quiet">/…</span>}
            </td>
            <td data-label="For" className="whitespace-normal!">
              {forWhom(v, page)}
            </td>
            <td data-label="Who sees something" className="whitespace-normal!">
              {rolesThatSee(v, page).join(", ") || <span className="quiet">whoever it is for</span>}
            </td>
            <td>
              <PageActs portal={p.slug} revision={v.revision} page={page.id} name={page.name} />
            </td>
          </tr>
        );
      })}
    </FramedTable>
  );
}
