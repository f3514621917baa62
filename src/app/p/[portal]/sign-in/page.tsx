import { redirect } from "next/navigation";
import { signIn } from "@/features/portal/actions";
import { portal, safePath } from "@/features/portal/gate";
import { Narrow } from "@/features/portal/ui/narrow";
import { SignInForm } from "@/ui/sign-in-form";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string; out?: string }> };

export const metadata = { title: "Sign in" };

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to, out } = await searchParams;
  // Whoever is signed in never meets this form.
  if (r.viewer.kind === "person") redirect(r.base + safePath(to) || "/");
  const { brand, portal: p } = r.published.definition;
  return (
    <Narrow
      title={out ? "You are signed out" : "Sign in"}
      lead={to && to !== "/" ? "Sign in to go on to the page you asked for." : `To ${p.name}.`}
    >
      <SignInForm action={signIn} to={safePath(to)} />
      <p className="quiet mt-6 text-sm">
        No password, or forgotten it?{" "}
        {brand.contact ? (
          <>
            Ask{" "}
            <a className="link-plain" href={`mailto:${brand.contact}`}>
              {brand.contact}
            </a>{" "}
            for a sign-in link.
          </>
        ) : (
          "Ask whoever invited you for a sign-in link."
        )}
      </p>
    </Narrow>
  );
}
