/** Which page of the guide belongs to a place of the application. */
const PLACES: readonly (readonly [start: string, page: string])[] = [
  ["/begin", "begin"],
  ["/tonight", "night"],
  ["/log", "log"],
  ["/shelf", "shelf"],
  ["/sky", "aim"],
  ["/compare", "growth"],
  ["/stages", "growth"],
  ["/practice", "shelf"],
  ["/keep", "keep"],
];

export function helpOf(pathname: string): string {
  const step = /^\/rigs\/[^/]+\/(\w+)/.exec(pathname)?.[1];
  if (step) return `/guide/${step === "guide" ? "guiding" : step}`;
  return `/guide/${PLACES.find(([start]) => pathname.startsWith(start))?.[1] ?? "start"}`;
}
