import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { signOut } from "@/features/portal/door/actions";
import { beginSecond, confirmSecond, giveSecond } from "@/features/portal/door/own-actions";
import { portal, safePath } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { SecondForm } from "@/ui/signing-in/second-forms";
import { SetUpSecond } from "@/ui/signing-in/set-up-second";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("second.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to } = await searchParams;
  const say = sayOf(r);
  if (!r.half) redirect(r.base + safePath(to) || "/");
  const enrol = r.half.step === "enrol";
  return (
    <Narrow title={say("second.title")} lead={say(enrol ? "second.enrol" : "second.lead")}>
      {enrol ? (
        <SetUpSecond begin={beginSecond} confirm={confirmSecond} onward={r.base + safePath(to) || "/"} />
      ) : (
        <SecondForm action={giveSecond} to={safePath(to)} />
      )}
      <form action={signOut} className="mt-6">
        <button type="submit" className="link-plain cursor-pointer text-sm">
          {say("frame.sign-out")}
        </button>
      </form>
    </Narrow>
  );
}
