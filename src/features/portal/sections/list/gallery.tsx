/** By their pictures, each with its name below. */

import { LockKeyhole, Image as Picture } from "lucide-react";
import { holdsPictures } from "@/core/schema/fields/natures";
import { isFiles } from "@/core/schema/seen";
import { Link } from "@/ui/link";
import { sayOf } from "../../queries";
import { isLocked, lockOf } from "../../records/locked";
import { byField } from "./load";
import { type LookProps, Pages } from "./look";
import { opensTo } from "./opens";

export function Gallery({ at, section, table, settings, v, address }: LookProps) {
  const { r } = at;
  const say = sayOf(r);
  const by = byField(r, table, settings.by, (f) => holdsPictures(f));
  const to = opensTo(r, table, settings);
  const lock = lockOf(r, table);
  return (
    <section aria-label={section.title || table.name}>
      <ul className="grid grid-cols-2 gap-4 sm:grid-cols-3 lg:grid-cols-4">
        {v.records.map((x) => {
          const value = by && x.fields[by.id];
          const first = isFiles(value) ? value.find((f) => f.picture && f.at) : undefined;
          const href = to(x.id);
          const name = r.desk.label(table, x);
          const shown = (
            <>
              <span className="grid aspect-square place-items-center overflow-hidden bg-base-200">
                {first ? (
                  // biome-ignore lint/performance/noImgElement: who may see it is asked at each request, which the optimiser would go around
                  <img
                    src={`${r.base}${first.at}?size=middle`}
                    alt=""
                    width={320}
                    height={320}
                    loading="lazy"
                    className="size-full object-cover"
                  />
                ) : isLocked(lock, x) && by && lock.fields.has(by.id) ? (
                  <span className="grid justify-items-center gap-2 px-3 text-center text-sm">
                    <LockKeyhole size={24} aria-hidden className="opacity-60" />
                    {say("locked.with", { plans: lock.plans })}
                  </span>
                ) : (
                  <Picture size={28} aria-hidden className="opacity-40" />
                )}
              </span>
              <span className="block truncate px-3 py-2 font-medium">{name}</span>
            </>
          );
          return (
            <li key={x.id} className="sheet overflow-hidden">
              {href ? (
                <Link href={href} className="block hover:underline">
                  {shown}
                </Link>
              ) : (
                shown
              )}
            </li>
          );
        })}
      </ul>
      <Pages at={at} v={v} address={address} loose />
    </section>
  );
}
