import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { askForLink } from "@/features/portal/door/actions";
import { portal, safePath } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { AskLinkForm } from "@/features/portal/ui/door/entry-forms";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { mailTo, marked } from "@/features/portal/ui/marked";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("forgotten.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  // Whoever is signed in chooses a password inside.
  if (r.viewer.kind === "person") redirect(`${r.base}/new-password`);
  const { brand, portal: p } = r.published.definition;
  const say = sayOf(r);
  const way = (words: string) => (
    <a className="link-plain" href={`${r.base}/sign-in`}>
      {words}
    </a>
  );
  return (
    <Narrow title={say("forgotten.title")} lead={say("forgotten.lead", { portal: p.name })}>
      <AskLinkForm action={askForLink} to={safePath((await searchParams).to)} />
      <p className="quiet mt-6 text-sm">
        {marked(say.marked("forgotten.back", {}, { way }))}
        {brand.contact && (
          <>
            {". "}
            {marked(say.marked("forgotten.ask", { contact: brand.contact }, { mail: mailTo }))}
          </>
        )}
      </p>
    </Narrow>
  );
}
