/** Beside a record that another plan would open, or that can be bought by itself. */
import { LockKeyhole } from "lucide-react";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { sayOf } from "../queries";
import type { aloneAt, Lock } from "../records/locked";

interface Props {
  r: PortalRequest;
  lock: Lock;
  alone: ReturnType<typeof aloneAt>;
  record: { readonly id: string; readonly name: string };
}

export function LockedNote({ r, lock, alone, record }: Props) {
  const say = sayOf(r);
  return (
    <span className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
      <Link href={`${r.base}/plans`} className="inline-flex items-center gap-1.5 hover:underline">
        <LockKeyhole size={14} aria-hidden /> {say("locked.with", { plans: lock.plans })}
      </Link>
      {alone && (
        <Link href={alone.href(record.id)} className="link-plain">
          {say("locked.alone", { price: alone.price })}
          <span className="sr-only">{` ${record.name}`}</span>
        </Link>
      )}
    </span>
  );
}
