/** How the portal looks and speaks: settings at the left, what comes of them at the right. */
import { draftOf } from "@/data/definition/draft";
import { draftMoves } from "@/data/definition/versions";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { DraftSteps } from "@/office/ui/draft-steps";
import { Link } from "@/ui/link";
import { BrandForm } from "./brand-form";

/** Colours, type, logo and sign-in page of a portal, each shown as clients will see it. */
export function BrandPage({ p }: { p: OfficePortal }) {
  const { definition, revision } = draftOf(p.file, p.owner);
  const { name, locale, timeZone } = definition.portal;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>Brand</h1>
          <p className="quiet mt-1 max-w-prose">
            What clients see is yours, not Elkhorn's. Text is kept readable on whatever colour is chosen.
          </p>
        </div>
        <div className="flex flex-wrap items-center gap-3">
          <Link className="btn btn-sm" href={`${p.at}/addresses`}>
            Addresses
          </Link>
          <DraftSteps
            portal={p.slug}
            revision={revision}
            parts={["brand", "portal"]}
            {...draftMoves(p.file, p.owner, ["brand", "portal"])}
          />
        </div>
      </div>
      <BrandForm
        key={revision}
        slug={p.slug}
        at={p.at}
        revision={revision}
        brand={definition.brand}
        portal={{ name, locale, timeZone }}
        frames={definition.frames}
        zones={Intl.supportedValuesOf("timeZone")}
      />
    </div>
  );
}
