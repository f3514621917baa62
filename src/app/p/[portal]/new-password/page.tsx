import { redirect } from "next/navigation";
import { newPassword } from "@/features/portal/actions";
import { portal, safePath } from "@/features/portal/gate";
import { NewPasswordForm } from "@/features/portal/ui/entry-forms";
import { Narrow } from "@/features/portal/ui/narrow";
import { passwordState } from "@/identity/sign-in";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string; first?: string }> };

export const metadata = { title: "Choose a password" };

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to, first } = await searchParams;
  if (!r.session) redirect(`${r.base}/sign-in`);
  if (first && passwordState(r.file, r.session.personId) === "own") redirect(r.base || "/");
  const lead = r.mustChoosePassword
    ? "The one you were given is for the first time only. Choose your own to go on."
    : "So that you can come back without a link.";
  return (
    <Narrow title="Choose a password" lead={lead}>
      <NewPasswordForm action={newPassword} to={safePath(to)} skip={r.mustChoosePassword ? null : r.base || "/"} />
    </Narrow>
  );
}
