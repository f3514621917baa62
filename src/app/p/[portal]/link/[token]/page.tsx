import { redirect } from "next/navigation";
import { personFacts } from "@/data/people/people";
import { openLink } from "@/features/portal/actions";
import { portal } from "@/features/portal/gate";
import { OpenLinkForm } from "@/features/portal/ui/entry-forms";
import { Narrow } from "@/features/portal/ui/narrow";
import { lookAtLink } from "@/identity/links";

type Props = { params: Promise<{ portal: string; token: string }> };

export const metadata = { title: "Your link", referrer: "no-referrer" };

const SENTENCES = {
  used: "This link has been used already.",
  replaced: "A newer link has been sent since; this one no longer works.",
  over: "This link is too old to be used.",
  unknown: "This link is not one of this portal's, or it was cut short on the way.",
};

/** Looking at the page uses nothing up: mail scanners look too. Going in is a POST. */
export default async function Page({ params }: Props) {
  const { portal: slug, token } = await params;
  const r = await portal(slug);
  const link = lookAtLink(r.file, decodeURIComponent(token), Date.now());
  const { brand, portal: p } = r.published.definition;
  if (link.state !== "good") {
    if (r.viewer.kind === "person") redirect(r.base || "/"); // already in: the link has done its work
    return (
      <Narrow title="This link does not open the door" lead={SENTENCES[link.state]}>
        <p>
          {brand.contact ? (
            <>
              Ask{" "}
              <a className="link-plain" href={`mailto:${brand.contact}`}>
                {brand.contact}
              </a>{" "}
              for a fresh one
            </>
          ) : (
            "Ask whoever sent it for a fresh one"
          )}
          , or{" "}
          <a className="link-plain" href={`${r.base}/sign-in`}>
            sign in with a password
          </a>
          .
        </p>
      </Narrow>
    );
  }
  const person = personFacts(r.file, link.personId);
  return (
    <Narrow title={`Welcome to ${p.name}`} lead="This link is yours alone. It works once.">
      <OpenLinkForm action={openLink} token={decodeURIComponent(token)} name={person?.name ?? "yourself"} />
    </Narrow>
  );
}
