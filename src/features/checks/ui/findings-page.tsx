import { mayInOffice } from "@/core/access/who/office";
import type { Finding } from "@/core/review/findings";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { CheckTabs } from "@/office/ui/check-tabs";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { NotCounted, Progress } from "@/ui/progress";
import { findingsOf, placeHref, rightFor } from "../findings";

interface Props {
  p: OfficePortal;
  params: { slug: string };
}

const KINDS: readonly { kind: Finding["kind"]; title: string; about: string }[] = [
  { kind: "open", title: "Perhaps too open", about: "More is seen than may have been meant." },
  { kind: "closed", title: "Perhaps too closed", about: "Somebody sees less than may have been meant." },
  { kind: "heavy", title: "Better the other way round", about: "It works, and gets slower and harder to read as it grows." },
  { kind: "idle", title: "Does nothing", about: "It changes nothing for anybody." },
];

/** What looks wrong in the rules, the most serious first. */
export async function FindingsPage({ p }: Props) {
  const outcome = await findingsOf(p);
  const found = outcome.state === "ready" ? outcome.value : [];
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <CheckTabs at={p.at} role={p.staff.role} />
      <div>
        <h1>Findings</h1>
        <p className="quiet mt-1 max-w-prose">
          What is probably a mistake, read from the draft and counted in the data. Some may be as you want them.
        </p>
      </div>
      {outcome.state === "working" && <Progress at={`${p.at}/progress/findings`} words="Reading the rules and counting in the data…" />}
      {outcome.state === "failed" && <NotCounted />}
      {outcome.state === "ready" && found.length === 0 && (
        <div className="sheet">
          <Empty title="Nothing found">No wall, grant, role or person looks like a mistake.</Empty>
        </div>
      )}
      {KINDS.map(({ kind, title, about }) => {
        const of = found.filter((f) => f.kind === kind);
        return of.length === 0 ? null : (
          <section key={kind} aria-labelledby={kind} className="grid gap-3">
            <div>
              <h2 id={kind}>
                {title} <span className="quiet font-normal">{of.length}</span>
              </h2>
              <p className="quiet text-sm">{about}</p>
            </div>
            <ul className="sheet divide-y divide-base-300/60">
              {of.map((f) => (
                <li key={f.text} className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 px-4 py-3">
                  <p className="min-w-0 flex-1 basis-80">{f.text}</p>
                  {mayInOffice(p.staff.role, rightFor(f.place)) && (
                    <Link className="link-plain whitespace-nowrap font-medium" href={placeHref(p, f.place)}>
                      {f.fix}
                    </Link>
                  )}
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
