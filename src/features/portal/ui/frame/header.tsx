/** The portal's own head: the agency's mark, the company one acts for, and the lists that are open. */

import type { Say } from "@/core/words/words";
import type { BrandPicture } from "@/data/brand/pictures";
import type { Membership } from "@/data/people/people";
import { Link } from "@/ui/link";
import { actFor, signOut } from "../../door/actions";
import type { Entry, Group } from "../../menu";
import { SignInLink, Tabs } from "./tabs";

interface Props {
  say: Say;
  base: string;
  name: string;
  monogram: string;
  logo: BrandPicture | undefined;
  entries: readonly (Entry | Group)[];
  person: string | null;
  memberships: Membership[];
  activeId: string | null;
  readOnly: boolean;
  /** Whether they look after their company. */
  leads: boolean;
  look: "band" | "paper" | "line";
}

/** A logo about as wide as it is high is a mark without letters: the name stands beside it. */
const isMark = (logo: BrandPicture): boolean => logo.width < logo.height * 1.6;

const HEADS = { band: "", paper: "border-b border-base-300", line: "border-t-4 border-b border-t-(--brand) border-b-base-300" } as const;

/** Name, menu, search and the person's own menu. */
export function Header({ say, base, name, monogram, logo, entries, person, memberships, activeId, readOnly, leads, look }: Props) {
  const active = memberships.find((m) => m.id === activeId);
  return (
    <header className={`${HEADS[look]} [--focus:var(--head-ink)]`} style={{ background: "var(--head)", color: "var(--head-ink)" }}>
      <div className="mx-auto flex max-w-6xl flex-wrap items-center gap-x-4 gap-y-2 px-4 pt-4 md:px-8">
        <Link href={base || "/"} className="flex items-center gap-3">
          {logo ? (
            // biome-ignore lint/performance/noImgElement: made small when it was kept; the optimiser would only ask once more
            <img
              src={`${base}/-/brand/${logo.hash}`}
              alt={isMark(logo) ? "" : name}
              width={logo.width}
              height={logo.height}
              className="h-10 w-auto max-w-56 object-contain"
            />
          ) : (
            <span aria-hidden className="title grid size-9 place-items-center rounded-full border-2 border-current text-base font-semibold">
              {monogram}
            </span>
          )}
          {(!logo || isMark(logo)) && <span className="title text-lg font-semibold">{name}</span>}
        </Link>
        <span className="grow" />
        {person && (
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
            {memberships.length > 1 && !readOnly ? (
              <form action={actFor} className="flex items-center gap-2">
                <label htmlFor="membership">{say("frame.acting-for")}</label>
                <select
                  id="membership"
                  name="membership"
                  defaultValue={activeId ?? ""}
                  className="rounded border border-current bg-transparent px-2 py-1 [&>option]:bg-white [&>option]:text-black"
                >
                  {memberships.map((m) => (
                    <option key={m.id} value={m.id}>
                      {m.companyName ?? name}
                    </option>
                  ))}
                </select>
                <button type="submit" className="min-h-[24px] min-w-[24px] underline underline-offset-3">
                  {say("frame.change")}
                </button>
              </form>
            ) : (
              active?.companyName && <span className="font-medium">{active.companyName}</span>
            )}
            {leads && (
              <Link className="underline underline-offset-3" href={`${base}/-/company`}>
                {say("company.way")}
              </Link>
            )}
            {readOnly ? (
              <span>{person}</span>
            ) : (
              <Link href={`${base}/-/me`} className="underline underline-offset-3">
                {person}
              </Link>
            )}
            {!readOnly && (
              <form action={signOut}>
                <button type="submit" className="min-h-[24px] min-w-[24px] cursor-pointer underline underline-offset-3">
                  {say("frame.sign-out")}
                </button>
              </form>
            )}
          </div>
        )}
        {!person && <SignInLink base={base} />}
      </div>
      <Tabs base={base} entries={entries} />
    </header>
  );
}
