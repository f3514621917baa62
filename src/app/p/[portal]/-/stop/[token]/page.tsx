import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { changeStop } from "@/features/portal/door/stop";
import { portal } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { isStopped, stoppedBy } from "@/letters/stop-mail";

type Props = { params: Promise<{ portal: string; token: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("stop.title"),
  referrer: "no-referrer",
});

/** Looking changes nothing: mail scanners look, too. */
export default async function Page({ params }: Props) {
  const { portal: slug, token } = await params;
  const r = await portal(slug);
  const email = stoppedBy(r.file, decodeURIComponent(token));
  if (!email) notFound();
  const say = sayOf(r);
  const stopped = isStopped(r.file, email);
  const { name } = r.published.definition.portal;
  return (
    <Narrow title={say("stop.title")} lead={say(stopped ? "stop.done" : "stop.lead", { portal: name, email })}>
      <form action={changeStop}>
        <input type="hidden" name="token" value={decodeURIComponent(token)} />
        <input type="hidden" name="act" value={stopped ? "start" : "stop"} />
        <button type="submit" className="btn btn-primary">
          {say(stopped ? "stop.start" : "stop.stop")}
        </button>
      </form>
      <p className="quiet mt-4 text-sm">{say("stop.asked")}</p>
    </Narrow>
  );
}
