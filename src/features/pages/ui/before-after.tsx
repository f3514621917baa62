/** A page as clients meet it now, and beside it as the draft has it. */
import { ArrowLeft } from "lucide-react";
import { pageChanges } from "@/core/editing/changes";
import { allPagesOf } from "@/core/pages/all-pages";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { type PagesView, whoIsFirst } from "../queries";
import { Picture } from "./editor/picture";

/** A page as it is published beside the page as it is drafted. */
export function BeforeAfter({ p, v, page, as }: { p: OfficePortal; v: PagesView; page: string; as: string | undefined }) {
  const changes = pageChanges(p.live.definition, v.definition, v.schema).filter((c) => c.page === page);
  const was = allPagesOf(p.live.definition, v.schema).page(page);
  const is = v.book.page(page);
  const at = `${p.at}/-/preview/${encodeURIComponent(page)}?as=${encodeURIComponent(as ?? whoIsFirst(p))}`;
  return (
    <main className="flex h-dvh flex-col">
      <header className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-100 px-4 py-2">
        <Link href={`${p.at}/publish`} className="btn btn-ghost btn-sm">
          <ArrowLeft size={16} aria-hidden /> Publish
        </Link>
        <h1 className="text-lg">{is?.name ?? was?.name ?? "A page"}, before and after</h1>
        <ul className="quiet flex grow flex-wrap gap-x-4 text-sm">
          {changes.map((c) => (
            <li key={c.words}>{c.words}</li>
          ))}
        </ul>
      </header>
      <div className="grid min-h-0 grow gap-3 p-3 md:grid-cols-2">
        <Side title="As it is now">{was ? <Picture address={`${at}&live=1`} title="As it is now" /> : "The page is new."}</Side>
        <Side title="As it will be">{is ? <Picture address={at} title="As it will be" /> : "The page is gone."}</Side>
      </div>
    </main>
  );
}

const Side = ({ title, children }: { title: string; children: React.ReactNode }) => (
  <section aria-label={title} className="flex min-h-0 flex-col gap-2">
    <h2 className="text-base">{title}</h2>
    {children}
  </section>
);
