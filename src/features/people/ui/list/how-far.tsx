"use client";
export function HowFar({ done, of, words, locale }: { done: number; of: number; words: string; locale: string }) {
  const n = (x: number): string => x.toLocaleString(locale);
  return (
    <div role="status" className="grid max-w-md gap-1">
      <progress className="progress progress-primary w-full" value={done} max={of} aria-label={words} />
      <span className="quiet text-sm tabular-nums">
        {words}: {n(done)} of {n(of)}
      </span>
    </div>
  );
}
