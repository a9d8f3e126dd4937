/** Focal lengths on one scale; the handle snaps to the correctors on the shelf. */

import { type KeyboardEvent, useState } from "react";
import type { Option } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { MarkShape } from "../../kit/Mark";
import { type At, arrow, Plot, slider, useHand } from "../../kit/plot";
import { fixed } from "../../kit/quantity";
import { logScale } from "../../kit/scale";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/optics";
import { Phrase, phrase } from "../../terms/phrase";

const WIDTH = 720;
const ROOM = 58; // that a number takes

export function FocalSlider({
  options,
  onChoose,
}: {
  options: readonly Option[];
  onChoose: (option: Option) => void;
}) {
  // The one the hand is over while it drags: it says its numbers, and is laid when let go.
  const [over, setOver] = useState<number | null>(null);
  const hand = useHand<{ index: number }>({
    preview: ({ index }) => setOver(index),
    settle: ({ index }) => {
      setOver(null);
      pick(index);
    },
    giveUp: () => setOver(null),
  });
  const sorted = options
    .filter((option) => option.suits || option.in_use)
    .sort((a, b) => a.focal_length_mm - b.focal_length_mm);
  const at = sorted.findIndex((option) => option.in_use);
  const current = sorted[at];
  const [first, last] = [sorted[0], sorted[sorted.length - 1]];
  if (!current || !first || !last) return null;
  const x = logScale([first.focal_length_mm * 0.9, last.focal_length_mm * 1.1], [20, WIDTH - 20]);
  const pick = (index: number) => {
    const option = sorted[Math.max(0, Math.min(sorted.length - 1, index))];
    if (option && !option.in_use) onChoose(option);
  };
  const nearest = (at: At) => {
    const distances = sorted.map((option) => Math.abs(x(option.focal_length_mm) - at.x));
    return { index: distances.indexOf(Math.min(...distances)) };
  };
  const words = (option: Option) =>
    phrase(terms.focalLengthMmMmLabel, {
      focal_length_mm: fixed(option.focal_length_mm, 0),
      label: option.label.text,
    });
  const told = sorted[over ?? at] ?? current;
  // A number stands where it is not over another; the one in use always does.
  const numbered = new Set([current]);
  let lastAt = -ROOM;
  for (const option of sorted) {
    const place = x(option.focal_length_mm);
    if (place - lastAt < ROOM || Math.abs(place - x(current.focal_length_mm)) < ROOM) continue;
    numbered.add(option);
    lastAt = place;
  }
  return (
    <div className="focal-slider">
      <Plot
        hand={hand}
        width={WIDTH}
        height={62}
        label={terms.focalLengthsOfThisTelescope}
        rest={<Num of="OpticsOption.focal_length_mm">{words(told)}</Num>}
        svg={{
          onPointerDown: hand.take({
            note: common.focalLength,
            still: true,
            change: (_from, to) => nearest(to),
          }),
        }}
      >
        <line x1={10} x2={WIDTH - 10} y1={26} y2={26} className="axis" />
        {sorted.map((option) => {
          const place = x(option.focal_length_mm);
          return (
            <g
              key={option.label.text}
              transform={`translate(${place} 26)`}
              className={option === told ? "chosen" : ""}
              data-says={words(option)}
            >
              <g transform="translate(-7 -7) scale(0.875)">
                <rect width={16} height={16} className="under" />
                <MarkShape verdict={option.verdict} />
              </g>
              {numbered.has(option) && (
                <text data-figure="OpticsOption.focal_length_mm" y={28} textAnchor="middle" className="num">
                  <Phrase
                    of={terms.focalLengthMmMm}
                    with={{ focal_length_mm: fixed(option.focal_length_mm, 0) }}
                  />
                </text>
              )}
            </g>
          );
        })}
        <circle
          cx={x(current.focal_length_mm)}
          cy={26}
          r={13}
          className="handle"
          {...slider(
            terms.focalLength,
            Math.round(current.focal_length_mm),
            [Math.round(first.focal_length_mm), Math.round(last.focal_length_mm)],
            words(current),
            {
              onKeyDown: (event: KeyboardEvent) => {
                const by = arrow(event);
                if (!by) return;
                event.preventDefault();
                pick(at + Math.sign(by.x + by.y));
              },
            },
          )}
        />
      </Plot>
    </div>
  );
}
