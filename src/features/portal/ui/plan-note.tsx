/** One clear sentence for what a plan does not include, with the way to the plans. */
import { listIn } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import { Link } from "@/ui/link";

interface Props {
  say: Say;
  base: string;
  things: string;
  features: string[];
  lapsed: boolean;
}

export function PlanNote({ say, base, things, features, lapsed }: Props) {
  return (
    <p className="sheet border-l-4 px-4 py-3" style={{ borderLeftColor: "var(--brand)" }}>
      {lapsed ? say("plans.closed", { things }) : say("plans.come-with", { things, features: listIn(features, say.locale) })}{" "}
      <Link className="link-plain font-semibold" href={`${base}/plans`}>
        {say("plans.see")}
      </Link>
    </p>
  );
}
