import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { askForFresh, openLink } from "@/features/portal/door/actions";
import { portal } from "@/features/portal/entry";
import { looked, personName, sayOf } from "@/features/portal/queries";
import { OpenLinkForm } from "@/features/portal/ui/door/entry-forms";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { mailTo, marked } from "@/features/portal/ui/marked";
import { linkBrowserHere } from "@/identity/requests/cookies";
import { lookAtLink } from "@/identity/secrets/links";

type Props = { params: Promise<{ portal: string; token: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("link.title"),
  referrer: "no-referrer",
});

/** Looking at the page uses nothing up: mail scanners look too. Going in is a POST. */
export default async function Page({ params }: Props) {
  const { portal: slug, token } = await params;
  const r = await portal(slug);
  const link = lookAtLink(r.file, decodeURIComponent(token), Date.now());
  const { brand, portal: p } = r.published.definition;
  const say = sayOf(r);
  const door = (words: string) => (
    <a className="link-plain" href={`${r.base}/sign-in`}>
      {words}
    </a>
  );
  if (link.state !== "good") {
    if (r.viewer.kind === "person") redirect(r.base || "/"); // already in: the link has done its work
    return (
      <Narrow title={say("link.closed")} lead={say(`link.${link.state}`)}>
        {link.state !== "unknown" && link.state !== "withdrawn" && (
          <div className="mb-6">
            <OpenLinkForm action={askForFresh} token={decodeURIComponent(token)} submit={say("link.fresh")} />
          </div>
        )}
        <p>
          {marked(
            brand.contact
              ? say.marked("link.ask", { contact: brand.contact }, { mail: mailTo, door })
              : say.marked("link.ask-sender", {}, { door }),
          )}
        </p>
      </Narrow>
    );
  }
  if (!r.seeAs) await looked(r, decodeURIComponent(token));
  const elsewhere = link.asked !== null && link.asked !== (await linkBrowserHere(r.file.id, r.base));
  if (elsewhere)
    return (
      <Narrow title={say("link.welcome", { portal: p.name })} lead={say("link.elsewhere")}>
        <OpenLinkForm
          action={openLink}
          token={decodeURIComponent(token)}
          submit={say("link.go-in", { person: personName(r, link.personId) ?? say("link.yourself") })}
          code
        />
        <div className="mt-6">
          <OpenLinkForm action={askForFresh} token={decodeURIComponent(token)} submit={say("link.here")} quiet />
        </div>
      </Narrow>
    );
  return (
    <Narrow title={say("link.welcome", { portal: p.name })} lead={say("link.once")}>
      <OpenLinkForm
        action={openLink}
        token={decodeURIComponent(token)}
        submit={say("link.go-in", { person: personName(r, link.personId) ?? say("link.yourself") })}
      />
    </Narrow>
  );
}
