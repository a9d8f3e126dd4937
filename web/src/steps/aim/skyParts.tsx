/** What a patch of sky is drawn with: its size, stars, names and the bar of its scale. */

import type { SkyPatch as Patch, Target } from "../../api/types";
import { fixed } from "../../kit/quantity";

export const WIDTH = 560;
export const HEIGHT = 256;
export type Point = readonly [number, number];

/** Names of what lies on the patch. */
export function Labels({
  objects,
  target,
  px,
  scale,
}: {
  objects: Patch["objects"];
  target: Target;
  px: (p: Point) => [number, number];
  scale: number;
}) {
  const placed: [number, number][] = [];
  return objects.slice(0, 10).map((object) => {
    if (object.name === target.name) return null;
    const [x, y] = px(object.at as Point);
    const at: [number, number] = [x + Math.min(24, ((object.major_arcmin ?? 0) / 120) * scale) + 4, y + 4];
    // Crowded names are left out rather than written over one another.
    if (placed.some(([a, b]) => Math.abs(a - at[0]) < 62 && Math.abs(b - at[1]) < 13)) return null;
    placed.push(at);
    return (
      <text key={object.name} x={at[0]} y={at[1]}>
        {object.name}
      </text>
    );
  });
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
    list.push(`M${fixed(sx, 1)} ${fixed(sy, 1)}h0`);
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
