/** One clear sentence for what a plan does not include, with the way to the plans. */
import { Link } from "@/ui/link";

export function PlanNote({ base, what, features, lapsed }: { base: string; what: string; features: string[]; lapsed: boolean }) {
  return (
    <p className="sheet border-l-4 px-4 py-3" style={{ borderLeftColor: "var(--brand)" }}>
      {lapsed
        ? `Your company's plan has ended, so ${what} are closed for now; nothing has been deleted.`
        : `${what} come with ${features.join(" and ")}, which your company's plan does not include.`}{" "}
      <Link className="link-plain font-semibold" href={`${base}/plans`}>
        See the plans
      </Link>
    </p>
  );
}
