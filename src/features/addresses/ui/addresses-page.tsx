import { config } from "@/config";
import { domainsOf } from "@/data/installation/domains";
import { addressAt, ownAddress, portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { addDomainForm, lookForDomain, makeMain, removeDomain } from "../actions";
import { AddDomain } from "./add-domain";
import { DomainCard } from "./domain-card";
import { MakeMain } from "./make-main";

/** Under which names the portal is reached. */
export function AddressesPage({ p }: { p: OfficePortal }) {
  const list = domainsOf(p.file.id, p.owner);
  const own = ownAddress(p.slug);
  const main = portalAddress(p.slug);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/brand`}>
          Brand
        </Link>
      </nav>
      <div>
        <h1>Addresses</h1>
        <p className="quiet mt-1 max-w-prose">
          Links in mails name the main address, and passkeys work there alone. Whoever opens another one is led to it, to the same page.
        </p>
      </div>
      <ul className="grid gap-3">
        <li className="sheet flex flex-wrap items-start justify-between gap-3 p-5">
          <div className="min-w-0">
            <h2 className="break-all">{own}</h2>
            <p className="quiet mt-1">{main === own ? "The main address." : "Leads to the main address."} It stays with the portal.</p>
          </div>
          {main !== own && <MakeMain p={p} host={null} address={own} action={makeMain.bind(null, p.slug, null)} />}
        </li>
        {list.map((d) => (
          <li key={d.host} className="sheet grid gap-4 p-5">
            <div className="flex flex-wrap items-start justify-between gap-3">
              <div className="min-w-0">
                <h2 className="break-all">{d.shownAt === null ? d.host : addressAt(d.host)}</h2>
                <p className="quiet mt-1">{state(d, main === addressAt(d.host))}</p>
              </div>
              <div className="flex flex-wrap gap-2">
                {d.shownAt !== null && !d.main && (
                  <MakeMain p={p} host={d.host} address={addressAt(d.host)} action={makeMain.bind(null, p.slug, d.host)} />
                )}
                <SafeForm action={removeDomain.bind(null, p.slug, d.host)}>
                  <button type="submit" className="btn btn-ghost btn-sm" aria-label={`Remove ${d.host}`}>
                    Remove
                  </button>
                </SafeForm>
              </div>
            </div>
            {d.shownAt === null && <DomainCard host={d.host} token={d.token} action={lookForDomain.bind(null, p.slug, d.host)} />}
          </li>
        ))}
      </ul>
      <section className="sheet grid gap-4 p-5" aria-labelledby="add">
        <div>
          <h2 id="add">A domain of your own</h2>
          <p className="quiet mt-1 max-w-prose">
            Have its name lead to this machine (an A, AAAA or CNAME record), add it here, and show that it is yours. Its certificate is the
            work of the gateway before Elkhorn: the README says how one gets it by itself.
          </p>
        </div>
        <AddDomain action={addDomainForm.bind(null, p.slug)} />
        {config().names === "stand-in" && (
          <p className="quiet text-sm">
            Names are asked of the{" "}
            <a className="link-plain" href="/-/names">
              stand-in name server
            </a>
            .
          </p>
        )}
      </section>
    </div>
  );
}

function state(d: { readonly shownAt: number | null; readonly shownBy: string | null }, main: boolean): string {
  if (d.shownAt === null) return "Not shown to be yours yet: it leads nowhere.";
  return `${main ? "The main address." : "Leads to the main address."} A ${d.shownBy === "record" ? "text record" : "file"} has shown that it is yours.`;
}
