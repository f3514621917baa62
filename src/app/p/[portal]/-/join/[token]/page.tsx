import type { Metadata } from "next";
import { portal } from "@/features/portal/gate";
import { finishJoining } from "@/features/portal/join-actions";
import { sayOf } from "@/features/portal/queries";
import { OpenLinkForm } from "@/features/portal/ui/entry-forms";
import { marked } from "@/features/portal/ui/marked";
import { Narrow } from "@/features/portal/ui/narrow";
import { lookAtJoin } from "@/identity/joining";

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
