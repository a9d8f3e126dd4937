/** What a patch of sky is drawn with: its size, stars, names and the bar of its scale. */

import type { SkyPatch as Patch, Target } from "../../api/types";
import { type Box, placed } from "../../kit/labels";
import { coordinate } from "../../kit/quantity";

export const WIDTH = 560;
export const HEIGHT = 256;
const MOST_NAMES = 12;
export type Point = readonly [number, number];

// The compass, the bar of the scale, the buttons of the zoom and the mark of what is up keep their places.
const KEPT: readonly Box[] = [
  { left: 0, top: HEIGHT - 62, right: 66, bottom: HEIGHT },
  { left: WIDTH - 130, top: HEIGHT - 36, right: WIDTH, bottom: HEIGHT },
  { left: WIDTH - 46, top: 0, right: WIDTH, bottom: 80 },
  { left: WIDTH / 2 - 10, top: 0, right: WIDTH / 2 + 110, bottom: 16 },
  { left: WIDTH / 2 - 10, top: HEIGHT - 16, right: WIDTH / 2 + 110, bottom: HEIGHT },
];

/** Names of what lies on the patch: the brightest first, and none over another or over other words. */
export function Labels({
  objects,
  target,
  px,
  scale,
  taken,
}: {
  objects: Patch["objects"];
  target: Target;
  px: (p: Point) => [number, number];
  scale: number;
  /** What other words stand there already. */
  taken: readonly Box[];
}) {
  const wanted = objects
    .filter((object) => object.name !== target.name)
    .map((object) => {
      const [x, y] = px(object.at as Point);
      const beside = Math.min(24, ((object.major_arcmin ?? 0) / 120) * scale) + 4;
      return { key: object.name, words: object.name, x: x + beside, y: y + 4 };
    });
  const within = { left: 0, top: 0, right: WIDTH, bottom: HEIGHT };
  return placed(wanted, [...KEPT, ...taken], within)
    .slice(0, MOST_NAMES)
    .map(({ key, words, x, y }) => (
      <text key={key} x={x} y={y} data-testid="sky-name">
        {words}
      </text>
    ));
}

/** Stars in a few sizes, one path each: round caps on lines of no length are the cheapest dots. */
export function starPaths(patch: Patch, scale: number): { radius: number; d: string }[] {
  const bins = new Map<number, string[]>();
  for (const star of patch.stars as [number, number, number][]) {
    const [x, y, magnitude] = star;
    const radius = Math.max(0.5, Math.round((4.4 - magnitude * 0.4) * 4) / 4);
    const sx = WIDTH / 2 - x * scale;
    const sy = HEIGHT / 2 - y * scale;
    if (sx < -5 || sx > WIDTH + 5 || sy < -5 || sy > HEIGHT + 5) continue;
    const list = bins.get(radius) ?? [];
    list.push(`M${coordinate(sx)} ${coordinate(sy)}h0`);
    bins.set(radius, list);
  }
  return [...bins].map(([radius, list]) => ({ radius, d: list.join("") }));
}

/** A round length for the scale bar, and its words. */
export function niceBar(radius: number): { deg: number; words: string } {
  const options: [number, string][] = [
    [10, "10°"],
    [5, "5°"],
    [2, "2°"],
    [1, "1°"],
    [0.5, "30′"],
    [1 / 6, "10′"],
    [1 / 12, "5′"],
    [1 / 60, "1′"],
  ];
  const [deg, words] = options.find(([size]) => size <= radius * 0.6) ?? [1 / 60, "1′"];
  return { deg, words };
}
