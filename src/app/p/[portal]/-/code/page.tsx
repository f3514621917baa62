import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { enterCode } from "@/features/portal/door/own-actions";
import { portal, safePath } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { CodeForm } from "@/features/portal/ui/door/code-form";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { marked } from "@/features/portal/ui/marked";
import { codeAskedFor } from "@/identity/requests/cookies";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string; by?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("code.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to, by } = await searchParams;
  if (r.viewer.kind === "person") redirect(r.base + safePath(to) || "/");
  const back = `${r.base}/sign-in?to=${encodeURIComponent(safePath(to))}`;
  const email = await codeAskedFor(r.file.id, r.base);
  if (!email) redirect(back);
  const say = sayOf(r);
  const way = (words: string) => (
    <a className="link-plain" href={back}>
      {words}
    </a>
  );
  return (
    <Narrow title={say("code.title")} lead={say(by === "sms-code" ? "code.sent-sms" : "code.sent-mail", { email })}>
      <CodeForm action={enterCode} by={by === "sms-code" ? "sms-code" : "mail-code"} to={safePath(to)} />
      <p className="quiet mt-6 text-sm">{marked(say.marked("code.back", {}, { way }))}</p>
    </Narrow>
  );
}
