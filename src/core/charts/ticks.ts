/** Round steps for an axis: 1, 2 or 5 times a power of ten (common practice, no source). */
export function ticks(most: number, wanted = 4): number[] {
  if (!(most > 0)) return [0];
  const rough = most / wanted;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough)!;
  const count = Math.ceil(most / step - 1e-9);
  return Array.from({ length: count + 1 }, (_, i) => Number((i * step).toPrecision(12)));
}
