import { passkeysElsewhere } from "@/identity/doors/passkeys-elsewhere";
import { providersOf } from "@/identity/providers/providers";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { plural } from "@/office/words";
import { SafeForm } from "@/ui/forms/safe-form";

const NAMED = 8;

/** What stops with another main address is said before it is chosen. */
export function MakeMain({
  p,
  host,
  address,
  action,
}: {
  p: OfficePortal;
  host: string | null;
  address: string;
  action: () => Promise<void>;
}) {
  const keys = passkeysElsewhere(p.file, p.owner, new URL(address).hostname, NAMED);
  const providers = providersOf(p.file);
  return (
    <details className="w-full max-w-prose sm:w-auto">
      <summary className="btn btn-sm list-none" aria-label={`Make ${host ?? address} the main address`}>
        Make it the main address
      </summary>
      <div className="mt-3 grid gap-3">
        <ul className="list-disc pl-5">
          <li>Everybody signs in once more, at {address}.</li>
          {keys.all > 0 && (
            <li>
              The passkeys of {plural(p, keys.all, "person", "people")} stop there: {keys.names.join(", ")}
              {keys.all > NAMED ? " and others" : ""}. They come in by another door and make a new one. At the old address the passkey
              stays.
            </li>
          )}
          {providers.length > 0 && (
            <li>
              Tell {providers.map((x) => x.name).join(", ")} the new address of this portal, or signing in from there stops. It stands under
              Doors.
            </li>
          )}
        </ul>
        <SafeForm action={action}>
          <button type="submit" className="btn btn-primary btn-sm">
            Yes, make it the main address
          </button>
        </SafeForm>
      </div>
    </details>
  );
}
