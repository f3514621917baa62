import { formatDate, formatMoment } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { readLog } from "@/data/log/log";
import { doorSettings } from "@/identity/doors/settings";
import { USED_STANDING } from "@/identity/doors/standing";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { standingUntil } from "@/identity/secrets/links";
import { SafeForm } from "@/ui/forms/safe-form";
import { takeStanding } from "../../standing";
import { MakeStanding } from "./make-standing";

/** A link that stays: made, taken back, and each use of it listed. Only where the owner has opened that door. */
export function StandingPart({ p, personId, name }: { p: OfficePortal; personId: string; name: string }) {
  const until = standingUntil(p.file, personId, p.now);
  const open = doorSettings(p.file).open.includes("standing");
  if (!open && until === null) return null;
  const { locale, timeZone } = p.live.definition.portal;
  const uses = readLog(p.file, p.owner, { record: personId, kind: USED_STANDING, limit: 20 });
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="standing">
      <h2 id="standing">Standing link</h2>
      <p className="quiet max-w-prose">
        {until === null
          ? "A link that works again and again, for a screen that nobody signs in at. Whoever has it is in as them."
          : `It works until ${formatDate(dateIn(until, timeZone), locale)}${open ? "" : ", but that door is shut now"}.`}
      </p>
      {open && <MakeStanding portal={p.slug} personId={personId} name={name} there={until !== null} />}
      {until !== null && (
        <SafeForm action={takeStanding.bind(null, p.slug, personId)}>
          <button type="submit" className="btn btn-sm">
            Take it back
          </button>
        </SafeForm>
      )}
      {uses.length > 0 && (
        <div>
          <h3 className="field-label">Used</h3>
          <ul className="list-disc pl-5">
            {uses.map((u) => (
              <li key={u.id}>{formatMoment(new Date(u.at).toISOString(), locale, timeZone)}</li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}
