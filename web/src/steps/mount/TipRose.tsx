/** The feet from above, and how firmly it stands in each direction the load may hang out in. */

import type { MountView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { coordinate } from "../../kit/quantity";
import { terms } from "../../terms/mount";
import { Phrase, phrase } from "../../terms/phrase";

const SIZE = 132;
const FIRM = 3;

export function TipRose({ tips, words, feet }: { tips: MountView["tips"]; words: string; feet: number }) {
  const middle = SIZE / 2;
  const reach = SIZE / 2 - 14;
  const at = (degrees: number, share: number): [number, number] => {
    const angle = ((degrees - 90) * Math.PI) / 180;
    return [middle + Math.cos(angle) * reach * share, middle + Math.sin(angle) * reach * share];
  };
  const outline = tips
    .map((tip) => at(tip.direction_deg, Math.min(1, tip.margin / FIRM)))
    .map((point) => point.map(coordinate).join(","))
    .join(" ");
  const standing = [...Array(feet)].map((_, i) => at((i * 360) / feet, 1));
  return (
    <figure className="tip-rose">
      <svg viewBox={`0 0 ${SIZE} ${SIZE}`} role="img" aria-label={phrase(terms.fromAboveWords, { words })}>
        <circle cx={middle} cy={middle} r={reach / FIRM} className="tips-over" />
        <polygon points={standing.map((p) => p.join(",")).join(" ")} className="feet" />
        <polygon points={outline} className="margin" />
        {standing.map(([px, py]) => (
          <circle key={`${px}`} cx={px} cy={py} r={4} className="foot" />
        ))}
      </svg>
      <figcaption className="quiet">
        <Phrase
          of={terms.fromAboveWordsInsideTheRing}
          with={{ words: <Num of="MountTip.margin">{words}</Num> }}
        />
      </figcaption>
    </figure>
  );
}
