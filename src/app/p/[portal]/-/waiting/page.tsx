import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { formatMoment } from "@/core/text/format";
import { signOut } from "@/features/portal/door/actions";
import { portal } from "@/features/portal/entry";
import { localeOf, sayOf } from "@/features/portal/queries";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { waitsSince } from "@/joining/approval";

type Props = { params: Promise<{ portal: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("waiting.title"),
});

export default async function Page({ params }: Props) {
  const r = await portal((await params).portal);
  const personId = r.session?.personId ?? r.seeAs?.personId;
  if (!r.waits || !personId) redirect(r.base || "/");
  const say = sayOf(r);
  const { portal: p, brand } = r.published.definition;
  const { locale, timeZone } = localeOf(r);
  const since = waitsSince(r.file, personId);
  return (
    <Narrow title={say("waiting.title")} lead={say("waiting.lead", { portal: p.name })}>
      {since && <p>{say("waiting.since", { when: formatMoment(new Date(since).toISOString(), locale, timeZone) })}</p>}
      {brand.contact && <p className="mt-2">{say("home.ask", { contact: brand.contact })}</p>}
      {r.session && (
        <form action={signOut} className="mt-6">
          <button type="submit" className="btn btn-sm">
            {say("frame.sign-out")}
          </button>
        </form>
      )}
    </Narrow>
  );
}
