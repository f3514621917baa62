/** The chart as one drawing: colours come from the brand, and each part is told apart by its words too. */
import { ticks } from "@/core/charts/ticks";
import type { Bar } from "./load";

interface Props {
  shape: "bars" | "lines" | "share";
  bars: readonly Bar[];
  worded: (n: number) => string;
  label: string;
  months: boolean;
  room: keyof typeof WIDE;
}

/** Units of the drawing; what stands beside others is drawn narrower, so that its words stay readable. */
const WIDE = { whole: 640, half: 420 } as const;

export function Drawn(props: Props) {
  if (props.shape === "share") return <Share {...props} />;
  if (props.shape === "lines" || props.months) return <Upright {...props} />;
  return <Lying {...props} />;
}

/** Names stand at the left, where there is room for them. */
function Lying({ bars, worded, label, room }: Props) {
  const wide = WIDE[room];
  const [from, long] = room === "half" ? [118, wide - 118 - 84] : [180, wide - 180 - 120];
  const most = Math.max(...bars.map((b) => b.value), 0) || 1;
  const high = 30;
  return (
    <svg
      viewBox={`0 0 ${wide} ${bars.length * high}`}
      role="img"
      aria-label={label}
      className="h-auto w-full"
      style={{ aspectRatio: `${wide} / ${bars.length * high}` }}
    >
      {bars.map((b, i) => (
        <g key={b.key} transform={`translate(0 ${i * high})`}>
          <text x={0} y={19} fontSize={14} className="fill-base-content">
            {short(b.name, room === "half" ? 15 : 22)}
          </text>
          <rect x={from} y={5} width={Math.max(2, (Math.max(0, b.value) / most) * long)} height={20} rx={3} className="fill-primary" />
          <text x={from + 8 + (Math.max(0, b.value) / most) * long} y={19} fontSize={14} className="fill-base-content tabular-nums">
            {worded(b.value)}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** Months from left to right, as bars or as a line. */
function Upright({ bars, worded, label, shape, room }: Props) {
  const wide = WIDE[room];
  const [high, left, foot] = [260, 76, 28];
  const marks = ticks(Math.max(...bars.map((b) => b.value), 0));
  const most = marks.at(-1) || 1;
  const step = (wide - left) / bars.length;
  const y = (v: number): number => 10 + (high - foot - 10) * (1 - Math.max(0, v) / most);
  const x = (i: number): number => left + step * (i + 0.5);
  // As many names as there is room for.
  const every = Math.ceil(bars.length / (room === "half" ? 5 : 9));
  return (
    <svg
      viewBox={`0 0 ${wide} ${high}`}
      role="img"
      aria-label={label}
      className="h-auto w-full"
      style={{ aspectRatio: `${wide} / ${high}` }}
    >
      {marks.map((m) => (
        <g key={m}>
          <line x1={left} x2={wide} y1={y(m)} y2={y(m)} className="stroke-base-300" />
          <text x={left - 8} y={y(m) + 4} fontSize={13} textAnchor="end" className="fill-base-content/75">
            {worded(m)}
          </text>
        </g>
      ))}
      {shape === "lines" ? (
        <polyline points={bars.map((b, i) => `${x(i)},${y(b.value)}`).join(" ")} fill="none" strokeWidth={2.5} className="stroke-primary" />
      ) : null}
      {bars.map((b, i) => (
        <g key={b.key}>
          {shape === "lines" ? (
            <circle cx={x(i)} cy={y(b.value)} r={3.5} className="fill-primary" />
          ) : (
            <rect
              x={x(i) - step * 0.34}
              width={step * 0.68}
              y={y(b.value)}
              height={Math.max(0, high - foot - y(b.value))}
              rx={2}
              className="fill-primary"
            />
          )}
          {i % every === 0 && (
            <text x={x(i)} y={high - 8} fontSize={13} textAnchor="middle" className="fill-base-content/75">
              {b.name}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}

/** One bar cut into parts; their names and shares stand below it. */
function Share({ bars, worded, label, room }: Props) {
  const wide = WIDE[room];
  const whole = bars.reduce((sum, b) => sum + Math.max(0, b.value), 0) || 1;
  const shade = (i: number): number => 1 - (0.82 * i) / Math.max(1, bars.length - 1 || 1);
  let from = 0;
  const parts = bars.map((b, i) => {
    const width = (Math.max(0, b.value) / whole) * wide;
    const part = { ...b, x: from, width, shade: shade(i) };
    from += width;
    return part;
  });
  return (
    <div className="grid gap-3">
      <svg viewBox={`0 0 ${wide} 44`} role="img" aria-label={label} className="h-auto w-full" style={{ aspectRatio: `${wide} / 44` }}>
        {parts.map((p) => (
          <rect key={p.key} x={p.x} width={Math.max(0, p.width - 2)} height={44} rx={3} className="fill-primary" fillOpacity={p.shade} />
        ))}
      </svg>
      <ul className="grid grid-cols-[repeat(auto-fit,minmax(10rem,1fr))] gap-x-5 gap-y-1 text-sm">
        {parts.map((p) => (
          <li key={p.key} className="flex items-center gap-2">
            <span aria-hidden className="size-3 shrink-0 rounded-sm bg-primary" style={{ opacity: p.shade }} />
            <span className="truncate">{p.name}</span>
            <span className="quiet ml-auto tabular-nums">
              {worded(p.value)} · {Math.round((Math.max(0, p.value) / whole) * 100)}%
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

const short = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
