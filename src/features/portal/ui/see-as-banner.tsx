/** Unmistakable while looking as somebody else: who, that nothing can be changed, and the way back. */
import { Eye } from "lucide-react";
import type { Say } from "@/core/words/words";
import { marked } from "./marked";

interface Props {
  say: Say;
  person: string;
  company: string | null;
  roles: string[];
  back: string;
}

export function SeeAsBanner({ say, person, company, roles, back }: Props) {
  const who = { person, roles: roles.join(", ") || say("frame.no-role") };
  const marks = { b: (name: string) => <strong>{name}</strong> };
  return (
    <div role="status" className="sticky top-0 z-30 border-b-4 border-[#b8461a] bg-[#22302b] text-[#f6f2e9]">
      <div className="mx-auto flex max-w-6xl flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2 text-sm md:px-8">
        <Eye size={17} aria-hidden />
        <span>
          {marked(company ? say.marked("frame.seen-as-of", { ...who, company }, marks) : say.marked("frame.seen-as", who, marks))}
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
