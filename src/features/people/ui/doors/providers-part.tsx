import { providersOf } from "@/identity/providers/providers";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { SafeForm } from "@/ui/forms/safe-form";
import { addProviderForm, dropProvider } from "../../providers";
import { ProviderForm } from "./provider-form";

/** Where people may be known from elsewhere. */
export function ProvidersPart({ p }: { p: OfficePortal }) {
  const list = providersOf(p.file);
  const own = (id: string): string => `${portalAddress(p.slug)}/-/outside/${id}`;
  return (
    <section className="sheet grid gap-4 p-5" aria-labelledby="providers">
      <div>
        <h2 id="providers">Organisations that say who somebody is</h2>
        <p className="quiet mt-1">
          The first time, whoever comes from there is known by their e-mail: only where the organisation has verified it, and only for the
          domains named here. From then on by their account there.
        </p>
      </div>
      {list.length > 0 && (
        <ul className="divide-y divide-base-300">
          {list.map((x) => (
            <li key={x.id} className="flex flex-wrap items-start justify-between gap-3 py-3">
              <div className="min-w-0">
                <strong className="font-medium">{x.name}</strong>{" "}
                <span className="quiet">{x.kind === "oidc" ? "OpenID Connect" : "SAML 2.0"}</span>
                <dl className="quiet mt-1 grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 text-sm [&_dd]:break-all">
                  <dt>Speaks for</dt>
                  <dd>{x.domains.join(", ")}</dd>
                  <dt>{x.kind === "oidc" ? "Issuer" : "Entity"}</dt>
                  <dd>{x.kind === "oidc" ? x.settings.issuer : x.settings.entity}</dd>
                  <dt>{x.kind === "oidc" ? "Tell it this redirect address" : "Tell it these metadata"}</dt>
                  <dd>{own(x.id) + (x.kind === "oidc" ? "/back" : "/metadata")}</dd>
                </dl>
              </div>
              <SafeForm action={dropProvider.bind(null, p.slug, x.id)}>
                <button type="submit" className="btn btn-ghost btn-sm" aria-label={`Remove ${x.name}`}>
                  Remove
                </button>
              </SafeForm>
            </li>
          ))}
        </ul>
      )}
      <details>
        <summary className="link-plain cursor-pointer">Register one</summary>
        <div className="mt-4">
          <ProviderForm action={addProviderForm.bind(null, p.slug)} />
        </div>
      </details>
    </section>
  );
}
