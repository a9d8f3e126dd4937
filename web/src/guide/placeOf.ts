/** Which page of the guide belongs to a place of the application. */
const PLACES: readonly (readonly [start: string, page: string])[] = [
  ["/rig-finder", "begin"],
  ["/tonight", "night"],
  ["/log", "log"],
  ["/parts", "shelf"],
  ["/sky", "aim"],
  ["/compare", "growth"],
  ["/upgrade-path", "growth"],
  ["/preferences", "shelf"],
  ["/backups", "keep"],
];

export function helpOf(pathname: string): string {
  const step = /^\/rigs\/[^/]+\/(\w+)/.exec(pathname)?.[1];
  if (step) return `/guide/${step}`;
  return `/guide/${PLACES.find(([start]) => pathname.startsWith(start))?.[1] ?? "start"}`;
}
