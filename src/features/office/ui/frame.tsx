/** What stands around every page of a portal's back office: the rail of steps, the top bar, notices. */

import type { ReactNode } from "react";
import { mayInOffice } from "@/core/access/who/office";
import { formatDate } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { draftOf } from "@/data/definition/draft";
import { rehearsalIn } from "@/data/file/clock";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { Notices } from "@/ui/notices";
import { signOutOfOffice } from "../actions";
import { workSteps } from "../steps";
import { Mark } from "./mark";
import { Rail } from "./rail";
import { SeeAsChooser } from "./see-as-chooser";
import { Shortcuts } from "./shortcuts";

interface Props {
  p: OfficePortal;
  /** What the safeguards came to; it may come after the rest. */
  checked: ReactNode;
  seeAs: (slug: string, data: FormData) => Promise<void>;
  children: ReactNode;
}

/** The back office around a page of one portal: steps, draft, and whoever is looked as. */
export function Frame({ p, checked, seeAs, children }: Props) {
  const all = workSteps(p, checked);
  const draft = draftOf(p.file, p.owner);
  const rehearsal = rehearsalIn(p.file);
  const { locale, timeZone } = p.live.definition.portal;
  return (
    <div className="min-h-dvh md:grid md:grid-cols-[15.5rem_minmax(0,1fr)] print:block!">
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-base-100 focus:p-3">
        Skip to the content
      </a>
      <aside className="print:hidden border-b border-base-300 px-4 pt-4 md:sticky md:top-0 md:h-dvh md:overflow-y-auto md:border-r md:border-b-0 md:px-3 md:pb-6">
        <Link href="/" className="mb-4 flex items-center gap-2.5 md:mb-6 md:pl-4">
          <Mark />
          <span className="title text-lg font-semibold">Elkhorn</span>
        </Link>
        <Rail at={p.at} steps={all} />
      </aside>
      <div className="min-w-0">
        {rehearsal && (
          <>
            <div className="rehearsal-frame" aria-hidden />
            <p role="status" className="rehearsal-band">
              {`A rehearsal of ${p.live.definition.portal.name}: nothing here is real. Here it is ${formatDate(dateIn(p.now, timeZone), locale)}. `}
              <Link className="underline" href={`/portals/${rehearsal.slug}/rehearsal`}>
                Back to the portal
              </Link>
            </p>
          </>
        )}
        <header className="print:hidden flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-base-300 bg-base-100 px-4 py-2.5 md:px-8">
          <span className="title font-semibold">{p.live.definition.portal.name}</span>
          {draft.changed ? (
            <Link href={`${p.at}/publish`} className="tag border-accent! font-medium text-accent">
              Draft, not yet published
            </Link>
          ) : (
            <span className="tag">Live, version {p.live.version}</span>
          )}
          <span className="grow" />
          <a className="link-plain text-sm" href={portalAddress(p.slug)}>
            Open the portal
          </a>
          {mayInOffice(p.staff.role, "people") && <SeeAsChooser source={`${p.at}/people/named`} action={seeAs.bind(null, p.slug)} />}
          <Shortcuts steps={all.map((s, i) => ({ key: String(i + 1), name: s.name, href: `${p.at}/${s.path}` }))} />
          <form action={signOutOfOffice} className="flex items-center gap-2 text-sm">
            <Link className="link-plain hidden lg:inline" href="/-/you">
              {p.staff.name}
            </Link>
            <button type="submit" className="btn btn-ghost btn-sm">
              Sign out
            </button>
          </form>
        </header>
        <main id="main" className="max-w-6xl px-4 py-7 md:px-8">
          {children}
        </main>
      </div>
      <Notices />
    </div>
  );
}
