"use client";
/** The chart that the server drew. On request an interactive one replaces it, whose script is loaded only then. */
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useWords } from "@/ui/words";

interface Props {
  shape: "bars" | "lines" | "share";
  names: string[];
  values: number[];
  texts: string[];
  title: string;
  children: ReactNode;
}

export function Closer({ shape, names, values, texts, title, children }: Props) {
  const words = useWords();
  const [open, setOpen] = useState(false);
  const [failed, setFailed] = useState(false);
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!open) return;
    const at = place.current!;
    let gone = false;
    let plot: { purge(at: HTMLElement): void } | undefined;
    import("plotly.js-basic-dist-min")
      .then(async (loaded) => {
        const library = loaded.default;
        if (gone) return;
        plot = library;
        const ink = getComputedStyle(at).color;
        const colour = getComputedStyle(at).getPropertyValue("--color-primary") || ink;
        const common = { text: texts, hovertemplate: "%{label}%{x}: %{text}<extra></extra>" };
        const data =
          shape === "share"
            ? [
                {
                  type: "pie",
                  labels: names,
                  values,
                  text: texts,
                  hovertemplate: "%{label}: %{text}<extra></extra>",
                  textinfo: "label+percent",
                },
              ]
            : [
                {
                  ...common,
                  hovertemplate: "%{x}: %{text}<extra></extra>",
                  textposition: "none",
                  type: shape === "lines" ? "scatter" : "bar",
                  x: names,
                  y: values,
                  marker: { color: colour },
                },
              ];
        const layout = {
          margin: { t: 10, r: 10, b: 40, l: 60 },
          height: 300,
          paper_bgcolor: "transparent",
          plot_bgcolor: "transparent",
          font: { color: ink },
        };
        await library.newPlot(at, data, layout, { displaylogo: false, responsive: true });
      })
      .catch(() => {
        setFailed(true);
        setOpen(false);
      });
    return () => {
      gone = true;
      plot?.purge(at);
    };
  }, [open, shape, names, values, texts]);
  return (
    <div>
      {open ? <div ref={place} role="img" aria-label={title} className="min-h-[300px]" /> : children}
      <button type="button" className="btn btn-ghost btn-xs mt-1 -ml-2" aria-pressed={open} onClick={() => setOpen(!open)}>
        {failed ? words["chart.failed"] : open ? words["chart.plain"] : words["chart.closer"]}
      </button>
    </div>
  );
}
