import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { signIn } from "@/features/portal/actions";
import { askPasskey, comeByPasskey } from "@/features/portal/door-actions";
import { openDoors } from "@/features/portal/doors";
import { portal, safePath } from "@/features/portal/gate";
import { sayOf } from "@/features/portal/queries";
import { marked } from "@/features/portal/ui/marked";
import { Narrow } from "@/features/portal/ui/narrow";
import { joining } from "@/identity/joining-settings";
import { UsePasskey } from "@/ui/passkeys";
import { SignInForm } from "@/ui/sign-in-form";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string; out?: string; outside?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("door.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to, out, outside } = await searchParams;
  // Whoever is signed in never meets this form.
  if (r.viewer.kind === "person") redirect(r.base + safePath(to) || "/");
  const { portal: p } = r.published.definition;
  const way = (words: string) => (
    <a className="link-plain" href={`${r.base}/-/forgotten`}>
      {words}
    </a>
  );
  const joins = (words: string) => (
    <a className="link-plain" href={`${r.base}/-/join`}>
      {words}
    </a>
  );
  const say = sayOf(r);
  const doors = openDoors(r, say);
  const trouble = (["away", "busy", "over", "refused", "unknown"] as const).filter((x) => x === outside).map((x) => say(`outside.${x}`))[0];
  return (
    <Narrow
      title={say(out ? "door.signed-out" : "door.title")}
      lead={to && to !== "/" ? say("door.go-on") : say("door.to", { portal: p.name })}
    >
      {trouble && (
        <div role="alert" className="alert alert-error mb-4">
          {trouble}
        </div>
      )}
      <SignInForm action={signIn} to={safePath(to)} password={doors.password} others={doors.codes} names={doors.names}>
        {(doors.passkey || doors.outside.length > 0) && (
          <>
            {doors.passkey && <UsePasskey ask={askPasskey} come={comeByPasskey} to={safePath(to)} />}
            {doors.outside.map((p) => (
              <a
                key={p.id}
                className="btn btn-soft btn-sm h-auto min-h-9 py-1"
                href={`${r.base}/-/outside/${p.id}?to=${encodeURIComponent(safePath(to))}`}
              >
                {say("outside.with", { provider: p.name })}
              </a>
            ))}
          </>
        )}
      </SignInForm>
      {doors.link && (
        <p className="quiet mt-6 text-sm">{marked(say.marked(doors.password ? "door.forgotten" : "door.by-link", {}, { way }))}</p>
      )}
      {joining(r.file).who !== "nobody" && <p className="quiet mt-2 text-sm">{marked(say.marked("join.way", {}, { way: joins }))}</p>}
    </Narrow>
  );
}
