import type { Refusal } from "../refusal";

/** For the agency's people: why a control that a colleague has is missing here. */
export function Refusals({ of, one }: { of: readonly Refusal[]; one: string }) {
  if (of.length === 0) return null;
  const what = of.map((x) => x.action).join(" or ");
  return (
    <details className="text-[0.94rem]">
      <summary className="link-plain w-fit cursor-pointer">
        Why you may not {what} this {one}
      </summary>
      <div className="sheet mt-2 grid gap-4 p-5">
        {of.map((x) => (
          <section key={x.action} aria-label={`To ${x.action} it`}>
            <h2 className="text-base font-semibold">To {x.action} it</h2>
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
