/** The patch of sky the guide camera sees, beside the footprint, with real stars: north up, east left. */

import type { GuidePatchView } from "../../api/types";
import { coordinate } from "../../kit/quantity";
import { terms } from "../../terms/guiding";
import { Phrase, phrase } from "../../terms/phrase";

const SIZE = 230;

export function GuidePatch({ patch }: { patch: GuidePatchView }) {
  const scale = SIZE / 2 / patch.radius_deg;
  const px = ([x, y]: readonly [number, number]) =>
    `${coordinate(SIZE / 2 - x * scale)},${coordinate(SIZE / 2 - y * scale)}`;
  const points = (corners: readonly (readonly [number, number])[]) => corners.map(px).join(" ");
  return (
    <figure data-testid="guide-patch" className="guide-patch">
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="img"
        aria-label={phrase(terms.skyAroundTargetAsTheGuide, { target: patch.target })}
      >
        <rect width={SIZE} height={SIZE} className="sky-ground" />
        {patch.stars.map(([x, y, magnitude]) => (
          <circle
            key={`${x},${y}`}
            cx={SIZE / 2 - x * scale}
            cy={SIZE / 2 - y * scale}
            r={Math.max(0.5, 3.6 - magnitude * 0.3)}
            data-testid="star"
            className="star"
          />
        ))}
        <polygon points={points(patch.footprint as [number, number][])} className="footprint-outline" />
        <polygon points={points(patch.patch as [number, number][])} className="patch-outline" />
      </svg>
      <figcaption className="quiet">
        <Phrase
          of={terms.targetInsideListedStarWhichIn}
          with={{
            target: patch.target,
            inside: patch.inside,
            which: patch.inside === 1 ? "" : "s",
            faintest: patch.faintest,
          }}
        />
      </figcaption>
    </figure>
  );
}
