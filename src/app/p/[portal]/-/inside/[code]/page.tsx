import type { Metadata } from "next";
import { approveInside } from "@/features/portal/door/inside-actions";
import { portal, toSignIn } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { InsideForm } from "@/features/portal/ui/door/inside-form";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { frameWaits } from "@/identity/sessions/framed";

type Props = { params: Promise<{ portal: string; code: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("inside.title"),
  referrer: "no-referrer",
});

/** The tab of a page that stands in another site's frame. */
export default async function Page({ params }: Props) {
  const { portal: slug, code } = await params;
  const r = await portal(slug);
  if (!r.session || !r.viewer.person) toSignIn(r);
  const say = sayOf(r);
  if (!frameWaits(r.file, code, r.viewer.now)) return <Narrow title={say("inside.title")} lead={say("inside.ended")} />;
  const lead = say("inside.asked", { portal: r.published.definition.portal.name, person: r.viewer.person!.name });
  return (
    <Narrow title={say("inside.title")} lead={lead}>
      <InsideForm action={approveInside.bind(null, code)} label={say("inside.type")} yes={say("inside.yes")} />
    </Narrow>
  );
}
