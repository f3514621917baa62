import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { portal, safePath } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { Door } from "@/features/portal/ui/door/door";
import { Entrance } from "@/features/portal/ui/door/entrance";
import { Narrow } from "@/features/portal/ui/door/narrow";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string; out?: string; outside?: string; at?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("door.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  const { to, out, outside, at } = await searchParams;
  // Whoever is signed in never meets this form.
  if (r.viewer.kind === "person") redirect(r.base + safePath(to) || "/");
  const { portal: p } = r.published.definition;
  const say = sayOf(r);
  const trouble = (["away", "busy", "over", "refused", "unknown"] as const).filter((x) => x === outside).map((x) => say(`outside.${x}`))[0];
  return (
    <Entrance r={r}>
      <Narrow
        title={say(out ? "door.signed-out" : "door.title")}
        lead={to && to !== "/" ? say("door.go-on") : say("door.to", { portal: p.name })}
      >
        {trouble && (
          <div role="alert" className="alert alert-error mb-4">
            {trouble}
          </div>
        )}
        <Door r={r} to={safePath(to)} at={typeof at === "string" ? at : ""} />
      </Narrow>
    </Entrance>
  );
}
