"use client";
/** In a frame of a site that the agency listed: how high the page is, so that the site can make the frame as high. */
import { useEffect } from "react";

export function EmbedHeight({ origins }: { origins: readonly string[] }) {
  useEffect(() => {
    if (window.parent === window || !document.referrer) return;
    const { origin } = new URL(document.referrer);
    if (!origins.includes(origin)) return;
    const tell = (): void =>
      window.parent.postMessage({ elkhorn: "height", height: Math.ceil(document.body.getBoundingClientRect().height) }, origin);
    const watch = new ResizeObserver(tell);
    watch.observe(document.body);
    return () => watch.disconnect();
  }, [origins]);
  return null;
}
