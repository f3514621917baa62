/** Live or draft, where there is a draft. */
import { Link } from "@/ui/link";

interface Props {
  which: "live" | "draft";
  hasDraft: boolean;
  href: (of: "live" | "draft") => string;
}

export function WhichVersion({ which, hasDraft, href }: Props) {
  if (!hasDraft) return null;
  return (
    <nav aria-label="Version looked at" className="join">
      {(["live", "draft"] as const).map((of) => (
        <Link
          key={of}
          href={href(of)}
          aria-current={of === which ? "true" : undefined}
          className={`btn btn-sm join-item ${of === which ? "btn-primary" : ""}`}
        >
          {of === "live" ? "Live" : "Draft"}
        </Link>
      ))}
    </nav>
  );
}
