import { headers } from "next/headers";
import { rulesHere } from "@/features/portal/refusal";
import { requestPortal } from "@/identity/request";

export default async function NotFound() {
  const slug = (await headers()).get("x-elkhorn-portal");
  const r = slug ? await requestPortal(slug) : undefined;
  const rules = r ? rulesHere(r) : null;
  return (
    <div className="sheet mx-auto mt-10 max-w-md p-8">
      <h1>There is nothing here</h1>
      <p className="quiet mt-2">
        The address may be mistyped, or what it leads to is not yours to see. The lists above show all that is open to you.
      </p>
      {rules && (
        <section aria-label="The rules that hold for you" className="mt-5 border-t border-base-300 pt-4">
          <p className="font-semibold">What your roles may {rules.action} here</p>
          <ul className="mt-1 grid list-disc gap-1 pl-5">
            {rules.words.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
