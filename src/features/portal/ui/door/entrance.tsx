/** What the sign-in page stands in: plain, beside a picture, or before one. Without a picture the brand's colour stands in its place. */
import type { CSSProperties, ReactNode } from "react";
import { brandPicture } from "@/data/brand/pictures";
import type { PortalRequest } from "@/identity/requests/request";

/** The portal's own look around whatever is asked at its door. */
export function Entrance({ r, children }: { r: PortalRequest; children: ReactNode }) {
  const { signIn } = r.published.definition.brand;
  const picture = brandPicture(r.file, signIn.picture);
  const welcome = signIn.welcome && <p className="title text-2xl leading-snug font-semibold">{signIn.welcome}</p>;
  const shown = picture && (
    // biome-ignore lint/performance/noImgElement: made small when it was kept
    <img
      src={`${r.base}/-/brand/${picture.hash}`}
      alt=""
      width={picture.width}
      height={picture.height}
      className="absolute inset-0 size-full object-cover"
    />
  );
  const ground = { background: "var(--brand)", color: "var(--brand-ink)", "--focus": "var(--brand-ink)" } as CSSProperties;
  if (signIn.kind === "plain")
    return (
      <>
        {welcome && <div className="mx-auto mt-4 max-w-md">{welcome}</div>}
        {children}
      </>
    );
  if (signIn.kind === "side")
    return (
      <div className="mt-4 grid overflow-hidden rounded-box border border-base-300 md:grid-cols-2">
        <div className="relative hidden min-h-96 md:block" style={ground}>
          {shown}
          {welcome && <div className={`absolute inset-x-0 bottom-0 p-8 ${picture ? "bg-black/80 text-white" : ""}`}>{welcome}</div>}
        </div>
        <div className="bg-base-100 px-2 pb-8 [--focus:var(--color-accent)] [&>.sheet]:border-0">{children}</div>
      </div>
    );
  return (
    <div className="relative mt-4 overflow-hidden rounded-box px-4 py-10 md:py-16" style={ground}>
      {shown}
      {welcome && <div className="relative mx-auto mb-4 max-w-md rounded-box bg-black/80 px-6 py-4 text-white">{welcome}</div>}
      <div className="relative text-base-content">{children}</div>
    </div>
  );
}
