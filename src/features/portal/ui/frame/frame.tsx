/** What stands around every page of a portal: its head, who one is seen as, its foot, in the agency's colours. */
import type { CSSProperties, ReactNode } from "react";
import { brandTheme, schemeOf } from "@/core/brand/theme";
import { clientWordsIn } from "@/core/words/words";
import { brandPicture } from "@/data/brand/pictures";
import { membershipOf, personFacts } from "@/data/people/people";
import type { PortalRequest } from "@/identity/requests/request";
import { leadingPlace } from "@/joining/leading";
import { SaidBelow } from "@/ui/forms/said-below";
import { SoftLinks } from "@/ui/soft-links";
import { WordsAround } from "@/ui/words";
import { menuOf } from "../../menu";
import { sayOf } from "../../queries";
import { DueBanner } from "./due-banner";
import { EmbedHeight } from "./embed-height";
import { Header } from "./header";
import { RehearsalBand } from "./rehearsal-band";
import { SeeAsBanner } from "./see-as-banner";

/** Who is looked as while they wait: a visitor everywhere, so the viewer does not tell. */
const waitingName = (r: PortalRequest): string | undefined =>
  r.waits && r.seeAs ? personFacts(r.file, r.seeAs.personId)?.name : undefined;

interface Props {
  r: PortalRequest;
  children: ReactNode;
  /** While a page is laid out: nobody has to be told that they look as somebody. */
  laidOut?: boolean;
}

/** The portal around a page: head, menu and foot in its brand. */
export function Frame({ r, children, laidOut = false }: Props) {
  const { definition, policy } = r.published;
  const { viewer } = r;
  const memberships = r.memberships.map(membershipOf);
  const say = sayOf(r);
  return (
    <WordsAround words={clientWordsIn(say.locale)}>
      <div
        data-theme="elkhorn"
        data-scheme={schemeOf(definition.brand)}
        className="flex min-h-dvh flex-col bg-base-200 text-base-content"
        style={brandTheme(definition.brand) as CSSProperties}
      >
        <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-base-100 focus:p-3">
          {say("frame.skip")}
        </a>
        <RehearsalBand r={r} />
        {r.seeAs && !laidOut && (
          <SeeAsBanner
            say={say}
            person={viewer.person?.name ?? waitingName(r) ?? null}
            waits={r.waits}
            notInYet={r.notInYet}
            company={viewer.company?.name ?? null}
            roles={viewer.roles.map((x) => policy.role(x)?.name ?? x)}
            back={`${r.base}/see-as/end`}
          />
        )}
        <Header
          say={say}
          base={r.base}
          name={definition.portal.name}
          monogram={definition.brand.monogram}
          logo={brandPicture(r.file, definition.brand.logo)}
          look={definition.brand.head}
          entries={menuOf(r)}
          person={viewer.person?.name ?? null}
          memberships={memberships}
          activeId={viewer.membershipId}
          readOnly={r.seeAs !== null}
          leads={r.session !== null && leadingPlace(r.file, viewer, () => r.memberships) !== null}
        />
        <DueBanner r={r} />
        <main id="main" className="mx-auto w-full max-w-6xl grow px-4 py-8 md:px-8">
          {children}
        </main>
        <footer className="quiet mx-auto w-full max-w-6xl px-4 pb-8 text-sm md:px-8">
          {definition.brand.footer || definition.portal.name}
          {definition.brand.contact && (
            <>
              {" · "}
              <a className="link-plain" href={`mailto:${definition.brand.contact}`}>
                {definition.brand.contact}
              </a>
            </>
          )}
        </footer>
        <SaidBelow />
        <SoftLinks />
        {definition.frames.length > 0 && <EmbedHeight origins={definition.frames} />}
      </div>
    </WordsAround>
  );
}
