"use client";
/** The page itself, drawn by the server from the draft for whoever is chosen, as wide as their screen would be. */
import { useEffect, useRef, useState } from "react";

interface Props {
  address: string;
  /** Another state of the draft is another page. */
  revision: number;
  width: number;
  selected: string | null;
  onSelect: (id: string | null) => void;
  title: string;
}

export function Preview({ address, revision, width, selected, onSelect, title }: Props) {
  const frame = useRef<HTMLIFrameElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 900, height: 700 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setRoom({ width: e!.contentRect.width, height: e!.contentRect.height }));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const choose = useRef(onSelect);
  choose.current = onSelect;
  useEffect(() => {
    const listen = (e: MessageEvent): void => {
      if (e.origin !== window.location.origin || e.source !== frame.current?.contentWindow) return;
      const told = e.data as { elkhorn?: string; section?: string | null };
      if (told.elkhorn === "selected") choose.current(told.section ?? null);
    };
    window.addEventListener("message", listen);
    return () => window.removeEventListener("message", listen);
  }, []);
  const tell = (): void => frame.current?.contentWindow?.postMessage({ elkhorn: "select", section: selected }, window.location.origin);
  useEffect(tell, [selected]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another state of the draft is drawn anew, in its place
  useEffect(() => frame.current?.contentWindow?.postMessage({ elkhorn: "refresh" }, window.location.origin), [revision]);
  const scale = Math.min(1, room.width / width);
  return (
    <div ref={box} className="relative min-h-0 grow overflow-hidden bg-base-300/40">
      <iframe
        ref={frame}
        title={title}
        src={address}
        onLoad={tell}
        className="absolute top-0 left-1/2 origin-top border-0 bg-base-100 shadow"
        style={{ width, height: room.height / scale, transform: `translateX(-50%) scale(${scale})` }}
      />
    </div>
  );
}
