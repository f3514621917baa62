import { formatMoment } from "@/core/text/format";
import { passkeysOf } from "@/identity/doors/passkey";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { sessionsOf } from "@/identity/sessions/sessions";
import { SafeForm } from "@/ui/forms/safe-form";
import { endTheirSessions } from "../../doors";

const VIA: Readonly<Record<string, string>> = {
  password: "by password",
  link: "by a link",
  "mail-code": "by a code by mail",
  "sms-code": "by a code by SMS",
  passkey: "by a passkey",
  outside: "by their organisation",
  standing: "by a standing link",
};

/** Where somebody is signed in, and by what they came. */
export function SessionsPart({ p, personId, name }: { p: OfficePortal; personId: string; name: string }) {
  const open = sessionsOf(p.file, personId, p.now);
  const keys = passkeysOf(p.file, personId).length;
  const { locale, timeZone } = p.live.definition.portal;
  const when = (at: number): string => formatMoment(new Date(at).toISOString(), locale, timeZone);
  if (open.length === 0 && keys === 0) return null;
  return (
    <section className="sheet grid gap-2 p-5" aria-labelledby="sessions">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 id="sessions">Where they are signed in</h2>
        {open.length > 1 && (
          <SafeForm action={endTheirSessions.bind(null, p.slug, personId, "all")}>
            <button type="submit" className="btn btn-sm">
              Sign {name.split(" ")[0]} out everywhere
            </button>
          </SafeForm>
        )}
      </div>
      {keys > 0 && <p className="quiet">{keys === 1 ? "They have a passkey." : `They have ${keys} passkeys.`}</p>}
      <ul className="divide-y divide-base-300">
        {open.map((s) => (
          <li key={s.hash} className="flex flex-wrap items-center justify-between gap-3 py-2">
            <span>
              Since {when(s.since)}, {VIA[s.via] ?? s.via}
              <span className="quiet block text-sm">last used {when(s.seenAt)}</span>
            </span>
            <SafeForm action={endTheirSessions.bind(null, p.slug, personId, s.hash)}>
              <button type="submit" className="btn btn-ghost btn-sm" aria-label={`Sign out there: since ${when(s.since)}`}>
                Sign out there
              </button>
            </SafeForm>
          </li>
        ))}
        {open.length === 0 && <li className="quiet py-2">Nowhere just now.</li>}
      </ul>
    </section>
  );
}
