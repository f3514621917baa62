import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { newPassword } from "@/features/portal/door/actions";
import { portal, safePath } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { NewPasswordForm } from "@/features/portal/ui/door/entry-forms";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { passwordState } from "@/identity/entering/sign-in";
import { byFreshLink } from "@/identity/sessions/sessions";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string; first?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("password.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to, first } = await searchParams;
  const session = r.session ?? r.choosing;
  if (!session) redirect(`${r.base}/sign-in`);
  const held = passwordState(r.file, session.personId);
  const byLink = byFreshLink(r.file, session, r.viewer.now);
  if (first && held === "own" && !byLink) redirect(r.base || "/");
  const say = sayOf(r);
  const lead = say(r.mustChoosePassword ? "password.first" : held === "own" ? "password.another" : "password.back-again");
  return (
    <Narrow title={say("password.title")} lead={lead}>
      <NewPasswordForm
        action={newPassword}
        to={safePath(to)}
        skip={r.mustChoosePassword ? null : r.base || "/"}
        present={held === "own" && !byLink}
      />
    </Narrow>
  );
}
