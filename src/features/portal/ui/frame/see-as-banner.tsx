/** Says, while staff see the portal as somebody else, as whom, that nothing can be changed, and the way back. */
import { Eye } from "lucide-react";
import type { Say } from "@/core/words/words";
import { marked } from "../marked";

interface Props {
  say: Say;
  /** Null is a visitor. */
  person: string | null;
  waits: boolean;
  notInYet: boolean;
  company: string | null;
  roles: string[];
  back: string;
}

export function SeeAsBanner({ say, person, waits, notInYet, company, roles, back }: Props) {
  const who = { person: person ?? "", roles: roles.join(", ") || say("frame.no-role") };
  const marks = { b: (name: string) => <strong>{name}</strong> };
  return (
    <div role="status" className="sticky top-0 z-30 border-b-4 border-[#b8461a] bg-[#22302b] text-[#f6f2e9] [--focus:#f6f2e9]">
      <div className="mx-auto flex max-w-6xl flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2 text-sm md:px-8">
        <Eye size={17} aria-hidden />
        <span>
          {marked(
            person === null
              ? say.marked("frame.seen-as-visitor", {}, marks)
              : waits
                ? say.marked("frame.seen-as-waiting", who, marks)
                : company
                  ? say.marked("frame.seen-as-of", { ...who, company }, marks)
                  : say.marked("frame.seen-as", who, marks),
          )}
          {notInYet && ` ${say("frame.not-in-yet")}`}
        </span>
        <span className="grow" />
        <form action={back} method="post">
          <button type="submit" className="cursor-pointer rounded bg-[#f6f2e9] px-3 py-1 font-semibold text-[#22302b]">
            {say("frame.back")}
          </button>
        </form>
      </div>
    </div>
  );
}
