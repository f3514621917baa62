import type { Metadata } from "next";
import { finishJoining } from "@/features/portal/door/join-actions";
import { portal } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { OpenLinkForm } from "@/features/portal/ui/door/entry-forms";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { marked } from "@/features/portal/ui/marked";
import { lookAtJoin } from "@/joining/joining";

type Props = { params: Promise<{ portal: string; token: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("join.title"),
  referrer: "no-referrer",
});

/** Looking makes nothing: mail scanners look too. */
export default async function Page({ params }: Props) {
  const { portal: slug, token } = await params;
  const r = await portal(slug);
  const who = lookAtJoin(r.file, decodeURIComponent(token), r.viewer.now);
  const say = sayOf(r);
  const way = (words: string) => (
    <a className="link-plain" href={`${r.base}/sign-in`}>
      {words}
    </a>
  );
  if (!who)
    return (
      <Narrow title={say("link.closed")} lead={say("join.gone")}>
        <p>{marked(say.marked("join.in-already", {}, { way }))}</p>
      </Narrow>
    );
  return (
    <Narrow title={say("link.welcome", { portal: r.published.definition.portal.name })} lead={say("join.confirm", { email: who.email })}>
      <OpenLinkForm action={finishJoining} token={decodeURIComponent(token)} submit={say("join.finish", { person: who.name })} />
    </Narrow>
  );
}
