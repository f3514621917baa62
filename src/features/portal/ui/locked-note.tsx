/** Beside a record that another plan would open. */
import { LockKeyhole } from "lucide-react";
import type { PortalRequest } from "@/identity/request";
import { Link } from "@/ui/link";
import type { Lock } from "../locked";
import { sayOf } from "../queries";

export function LockedNote({ r, lock }: { r: PortalRequest; lock: Lock }) {
  return (
    <Link href={`${r.base}/plans`} className="inline-flex items-center gap-1.5 text-sm hover:underline">
      <LockKeyhole size={14} aria-hidden /> {sayOf(r)("locked.with", { plans: lock.plans })}
    </Link>
  );
}
