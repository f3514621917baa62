"use client";
/** Money a month as a line, and what was received as bars: the same figures as the table under it. The script comes when it is seen. */
import { useEffect, useRef, useState } from "react";

interface Props {
  names: string[];
  /** Minor units; `scale` of them make one of the currency. */
  monthly: number[];
  received: number[];
  worded: { monthly: string[]; received: string[] };
  scale: number;
}

export function MonthsChart({ names, monthly, received, worded, scale }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [failed, setFailed] = useState(false);
  useEffect(() => {
    const at = place.current;
    if (!at) return;
    let gone = false;
    let plot: { purge(at: HTMLElement): void } | undefined;
    import("plotly.js-basic-dist-min")
      .then(async ({ default: library }) => {
        if (gone) return;
        plot = library;
        const style = getComputedStyle(at);
        const ink = style.color;
        const data = [
          {
            type: "bar",
            name: "Received",
            x: names,
            y: received.map((n) => n / scale),
            text: worded.received,
            textposition: "none",
            hovertemplate: "%{x}: %{text} received<extra></extra>",
            marker: { color: style.getPropertyValue("--color-base-300") || "#ccc", line: { color: ink, width: 0.5 } },
          },
          {
            type: "scatter",
            mode: "lines+markers",
            name: "A month",
            x: names,
            y: monthly.map((n) => n / scale),
            text: worded.monthly,
            hovertemplate: "%{x}: %{text} a month<extra></extra>",
            line: { color: style.getPropertyValue("--color-primary") || ink, width: 3 },
          },
        ];
        const layout = {
          margin: { t: 8, r: 8, b: 36, l: 56 },
          height: 260,
          paper_bgcolor: "transparent",
          plot_bgcolor: "transparent",
          font: { color: ink, family: style.fontFamily },
          legend: { orientation: "h", y: 1.15 },
          yaxis: { rangemode: "tozero", gridcolor: style.getPropertyValue("--color-base-300") },
          xaxis: { type: "category", automargin: true },
        };
        await library.newPlot(at, data, layout, { displayModeBar: false, responsive: true });
      })
      .catch(() => setFailed(true));
    return () => {
      gone = true;
      plot?.purge(at);
    };
  }, [names, monthly, received, worded, scale]);
  return (
    <div>
      <div
        ref={place}
        role="img"
        aria-label={`Money a month, from ${worded.monthly[0]} in ${names[0]} to ${worded.monthly.at(-1)} now`}
        className="min-h-[260px]"
      />
      {failed && <p className="quiet text-sm">The drawing could not be loaded; the table has the same figures.</p>}
    </div>
  );
}
