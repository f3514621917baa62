/** The editor with all that it offers, gathered for one page and one person. */
import type { Page } from "@/core/pages/page";
import { readyPages } from "@/core/pages/ready";
import { draftMoves } from "@/data/definition/versions";
import { listPortals } from "@/data/installation/portals";
import type { OfficePortal } from "@/identity/requests/office-gate";
import type { SeeAs } from "@/identity/requests/see-as";
import { Notices } from "@/ui/notices";
import { SoftLinks } from "@/ui/soft-links";
import { offeredTable, othersAtWork, type PagesView, problemsOf, rolesThatSee, whoFrom, whoIsFirst } from "../queries";
import { Editor } from "./editor/editor";
import type { Laid } from "./editor/laid";

interface Props {
  p: OfficePortal;
  v: PagesView;
  page: Page;
  as: string | undefined;
  laid: (who: Omit<SeeAs, "session">) => { name: string; missed: Map<string, string | null> } | null;
}

/** One page of a portal being laid out: its sections, their settings, and the page itself. */
export function EditorPage({ p, v, page, as, laid }: Props) {
  const key = as ?? whoIsFirst(p);
  const looked = laid(whoFrom(key));
  const problems = problemsOf(v, page);
  const about = page.about ? v.schema.findTable(page.about) : undefined;
  const tables = v.schema.tables;
  const nameOf = (id: string): string => v.schema.findTable(id)?.name ?? "";
  const sections = v.book.sections(page.id).map(
    (section): Laid => ({
      section,
      name: "source" in section.config ? nameOf(section.config.source.table) : section.kind === "sheet" ? (about?.singular ?? "") : "",
      problems: problems.get(section.id) ?? [],
      hidden: looked?.missed.get(section.id) ?? null,
    }),
  );
  return (
    <>
      <Editor
        offered={{
          portal: p.slug,
          tables: tables.map(offeredTable),
          people: offeredTable(v.schema.people),
          about: about ? offeredTable(about) : null,
          acts: v.definition.acts.map((a) => ({ id: a.id, name: a.name, table: a.table, on: a.on })),
          roles: v.definition.roles.map((r) => ({ id: r.id, name: r.name })),
          features: v.definition.features.map((f) => ({ id: f.id, name: f.name })),
          pages: v.book.pages.map((x) => ({ id: x.id, name: x.name, about: x.about })),
        }}
        at={p.at}
        page={{ ...page, passphrase: page.passphrase === null ? null : "set" }}
        ready={v.book.ready.has(page.id)}
        wasReady={readyPages(v.schema, v.definition).some((l) => l.page.id === page.id)}
        revision={v.revision}
        moves={draftMoves(p.file, p.owner, ["pages"])}
        sections={sections}
        as={{ key, name: looked?.name ?? "nobody" }}
        seenBy={rolesThatSee(v, page)}
        others={othersAtWork(p, page.id)}
        portals={listPortals(p.owner).filter((x) => x.slug !== p.slug)}
      />
      <Notices />
      <SoftLinks />
    </>
  );
}
