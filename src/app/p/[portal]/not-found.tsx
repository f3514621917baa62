import { headers } from "next/headers";
import { sayIn } from "@/core/words/words";
import { rulesHere } from "@/features/portal/refusal";
import { requestPortal } from "@/identity/requests/request";

export default async function NotFound() {
  const slug = (await headers()).get("x-elkhorn-portal");
  const r = slug ? await requestPortal(slug) : undefined;
  const say = sayIn(r?.published.definition.portal.locale ?? "en");
  const rules = r ? rulesHere(r) : null;
  return (
    <div className="sheet mx-auto mt-10 max-w-md p-8">
      <h1>{say("nothing.title")}</h1>
      <p className="quiet mt-2">{say("nothing.lead")}</p>
      {rules && (
        <section aria-label={say("nothing.rules")} className="mt-5 border-t border-base-300 pt-4">
          <p className="font-semibold">{say(`nothing.may-${rules.action}`)}</p>
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
