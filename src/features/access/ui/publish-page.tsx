import type { ReactNode } from "react";
import type { Failed, Ready, Working } from "@/data/definition/background";
import { type Draft, draftOf } from "@/data/definition/draft";
import { draftMoves, versions } from "@/data/definition/versions";
import { strandedHolders } from "@/data/publishing/publish";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { holds, type Verdict } from "@/office/checking";
import { DraftSteps } from "@/office/ui/draft-steps";
import { plural } from "@/office/words";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { NotCounted, Progress } from "@/ui/progress";
import { publishDraft, throwDraftAway } from "../actions";
import type { Changes } from "../queries";
import { accessView, draftChanges } from "../queries";
import { safeguardsOf } from "../safeguards";
import { BrokenSafeguards } from "./broken-safeguards";
import { ChangeLists } from "./change-lists";
import { Versions } from "./versions";

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: { done?: string; stale?: string; waits?: string; told?: string };
  impact: ReactNode;
}

/** What a publish would change, what stands against it, and the button. */
export async function PublishPage({ p, search, impact }: Props) {
  const { done, stale, waits, told } = search;
  const draft = draftOf(p.file, p.owner);
  const v = accessView(p);
  const safeguards = draft.changed ? await safeguardsOf(p) : null;
  const breaks = safeguards?.state === "ready" ? safeguards.value.filter((x) => !holds(x)) : [];
  const stranded = strandedHolders(p.file, p.owner, draft.definition);
  const { portal } = p.live.definition;
  const c = draftChanges(v, p.live.definition);
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>Publish</h1>
        <DraftSteps portal={p.slug} revision={draft.revision} {...draftMoves(p.file, p.owner)} />
      </div>
      {done && (
        <p role="status" className="alert alert-success alert-soft">
          Version {p.live.version} is live. It holds for everybody from their next click.
          {Number(told) > 0 && (
            <>
              {" "}
              {plural(p, Number(told), "person is", "people are")} told of it:{" "}
              <Link className="underline" href={`${p.at}/people/outbox`}>
                the outbox
              </Link>
              .
            </>
          )}
        </p>
      )}
      {stale && (
        <p role="alert" className="alert alert-error">
          The draft changed after you opened this page, or no longer fits the tables. Read it once more, then publish.
        </p>
      )}
      {waits === "unchecked" && (
        <p role="alert" className="alert alert-error">
          The safeguards could not be checked, so nothing was published. Try once more.
        </p>
      )}
      {waits === "broken" && breaks.length === 0 && (
        <p role="alert" className="alert alert-error">
          A safeguard did not hold, so nothing was published. It does now: read the draft once more, then publish.
        </p>
      )}
      {draft.changed ? (
        <DraftChanges p={p} impact={impact} c={c} safeguards={safeguards} breaks={breaks} stranded={stranded} draft={draft} />
      ) : (
        <p className="sheet p-6">
          Version {p.live.version} is live, and there is no draft beside it. Change walls or grants under Access and they wait here.
        </p>
      )}
      <Versions
        portal={p.slug}
        at={p.at}
        revision={draft.revision}
        live={p.live.version}
        list={versions(p.file, p.owner)}
        locale={portal.locale}
        timeZone={portal.timeZone}
      />
    </div>
  );
}

interface DraftChangesProps {
  readonly p: OfficePortal;
  readonly impact: ReactNode;
  readonly c: Changes;
  readonly safeguards: Working | Failed | Ready<Verdict[]> | null;
  readonly breaks: Verdict[];
  readonly stranded: string[];
  readonly draft: Draft;
}

/** What differs, and what it does. */
function DraftChanges({ p, impact, c, safeguards, breaks, stranded, draft }: DraftChangesProps) {
  return (
    <>
      <p className="max-w-prose">
        The draft differs from version {p.live.version}, which clients use now. Nothing below holds for anybody until you publish it.
      </p>
      {impact}
      <ChangeLists changes={c} at={p.at} />
      {safeguards?.state === "working" && <Progress at={`${p.at}/progress/safeguards`} words="Asking whether the safeguards hold…" />}
      {safeguards?.state === "failed" && <NotCounted />}
      {breaks.length > 0 && <BrokenSafeguards at={p.at} sentences={breaks.map((x) => x.sentence)} />}
      {stranded.length > 0 && (
        <div role="alert" className="alert alert-error">
          <ul className="grid gap-1">
            {stranded.map((m) => (
              <li key={m}>
                {m}{" "}
                <Link className="underline" href={`${p.at}/people`}>
                  People and companies
                </Link>
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className="flex flex-wrap items-end gap-4">
        <SafeForm action={publishDraft.bind(null, p.slug)} className="flex grow flex-wrap items-end gap-4">
          <input type="hidden" name="revision" value={draft.revision} />
          <label className="grid w-full max-w-md gap-1">
            <span className="field-label mb-0!">
              What this changes, and why <span className="quiet font-normal">(optional)</span>
            </span>
            <input name="note" className="input w-full" maxLength={500} />
          </label>
          <details className="w-full max-w-xl">
            <summary className="link-plain w-fit cursor-pointer">Tell people of it by mail</summary>
            <fieldset className="mt-3 grid gap-3">
              <legend className="sr-only">Who is told</legend>
              <div className="flex flex-wrap gap-x-5 gap-y-1.5">
                {draft.definition.roles
                  .filter((r) => r.side !== "visitor")
                  .map((r) => (
                    <label key={r.id} className="flex items-center gap-2">
                      <input type="checkbox" name="tell" value={r.id} className="checkbox checkbox-sm" />
                      {r.name}
                    </label>
                  ))}
              </div>
              <label className="grid gap-1">
                <span className="field-label mb-0!">What they read. Without words nobody is told</span>
                <textarea name="news" rows={3} maxLength={2000} className="textarea w-full" />
              </label>
            </fieldset>
          </details>
          <button type="submit" className="btn btn-primary" disabled={stranded.length + breaks.length > 0}>
            Publish version {p.live.version + 1}
          </button>
        </SafeForm>
        <SafeForm action={throwDraftAway.bind(null, p.slug)}>
          <button type="submit" className="btn btn-ghost">
            Throw the draft away
          </button>
        </SafeForm>
      </div>
    </>
  );
}
