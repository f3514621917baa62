import type { Say } from "@/core/words/words";
import type { Refusal } from "../refusal";

/** For the agency's people: why a control that a colleague has is missing here. */
export function Refusals({ say, of, thing }: { say: Say; of: readonly Refusal[]; thing: string }) {
  if (of.length === 0) return null;
  const what = of.length > 1 ? "both" : of[0]!.action;
  return (
    <details className="text-[0.94rem]">
      <summary className="link-plain w-fit cursor-pointer">{say(`refused.why-${what}`, { thing })}</summary>
      <div className="sheet mt-2 grid gap-4 p-5">
        {of.map((x) => (
          <section key={x.action} aria-label={say(`refused.to-${x.action}`)}>
            <h2 className="text-base font-semibold">{say(`refused.to-${x.action}`)}</h2>
            <ol className="mt-1 grid list-decimal gap-1 pl-5">
              {x.steps.map((s) => (
                <li key={s.text} className={s.holds ? "" : "font-medium"}>
                  {s.text}
                </li>
              ))}
            </ol>
          </section>
        ))}
      </div>
    </details>
  );
}
