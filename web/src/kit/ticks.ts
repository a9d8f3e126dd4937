/** Round marks between two values, about so many of them. */
export function ticks(low: number, high: number, about: number): number[] {
  const rough = (high - low) / about;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= rough) ?? 10 * power;
  const first = Math.ceil(low / step) * step;
  return [...Array(Math.max(0, Math.floor((high - first) / step) + 1))].map((_, i) =>
    Number((first + i * step).toPrecision(12)),
  );
}
