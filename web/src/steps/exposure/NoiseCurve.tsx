/** Noise over the length of a sub: the curve, every limit as a line, and the sub as a handle. */

import type { KeyboardEvent } from "react";
import type { ExposureView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { arrow, Plot, press, slider, useHand } from "../../kit/plot";
import { fixed, plain } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { logScale } from "../../kit/scale";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/exposure";
import { Phrase, phrase } from "../../terms/phrase";

type Sub = NonNullable<ExposureView["sub"]>;

const WIDTH = 560;
const HEIGHT = 250;
const [LEFT, RIGHT, TOP, BOTTOM] = [52, WIDTH - 12, 58, HEIGHT - 28];
const MARKS = [1, 3, 10, 30, 60, 120, 300, 600, 1200, 3600];
const LEVELS = [0.05, 0.2, 0.5, 1];
/** Words of a line: so many fit beside one another on a row. */
const ROW = 14;

export interface SubChange {
  sub: number;
}

interface Props {
  sub: Sub;
  preview: (change: SubChange) => void;
  settle: (change: SubChange, note: string) => void;
  giveUp: () => void;
}

const spoken = (seconds: number) =>
  seconds >= 7200 ? `${plain(seconds / 3600, 1)} h` : `${plain(seconds, seconds < 10 ? 1 : 0)} s`;
export function NoiseCurve({ sub, preview, settle, giveUp }: Props) {
  const nearest = (seconds: number) =>
    sub.rounds.reduce((best, one) =>
      Math.abs(Math.log(one / seconds)) < Math.abs(Math.log(best / seconds)) ? one : best,
    );
  const hand = useHand<SubChange>({ preview, settle, giveUp });
  const x = logScale([sub.low_s, sub.high_s], [LEFT, RIGHT]);
  const y = (noise: number) => BOTTOM - Math.sqrt(Math.min(noise, 1.2) / 1.2) * (BOTTOM - TOP);
  const at = (place: number) =>
    Math.exp(
      Math.log(sub.low_s) + ((place - LEFT) / (RIGHT - LEFT)) * (Math.log(sub.high_s) - Math.log(sub.low_s)),
    );
  const held = (seconds: number) => Math.min(Math.max(seconds, sub.low_s), sub.high_s);
  const place = (seconds: number) => x(held(seconds));
  const least = sub.limits.find((one) => one.least);
  const most = sub.limits.find((one) => !one.least);
  const now = place(sub.sub_s);
  const rows = rowsOf(
    sub.limits.map((one) => ({ at: place(one.seconds), chars: one.words.text.length + 8 })),
  );
  const move = (by: { x: number; y: number }, fine: boolean) => {
    const from = hand.pending()?.sub ?? sub.sub_s;
    const up = by.x + by.y > 0;
    const next = fine
      ? Math.round(from) + (up ? 1 : -1)
      : up
        ? sub.rounds.find((one) => one > from * 1.001)
        : [...sub.rounds].reverse().find((one) => one < from * 0.999);
    if (next && next >= sub.low_s) hand.nudge({ sub: held(next) }, common.subPlanned);
  };
  return (
    <Plot
      hand={hand}
      width={WIDTH}
      height={HEIGHT}
      name="noise-curve"
      className="noise-curve"
      label={terms.noiseOverTheLengthOfA}
      rest={
        sub.recommended_s == null ? (
          <Says text={sub.words} of="ExposureSub.words" />
        ) : (
          <Phrase
            of={terms.subWorthPlanningRecommendedSS}
            with={{
              sub: <Says text={sub.words} of="ExposureSub.words" />,
              recommended_s: <Num of="ExposureSub.recommended_s">{plain(sub.recommended_s)}</Num>,
            }}
          />
        )
      }
    >
      {least && (
        <rect
          className="good-span"
          x={place(least.seconds)}
          width={Math.max(0, (most ? place(most.seconds) : RIGHT) - place(least.seconds))}
          y={TOP}
          height={BOTTOM - TOP}
        />
      )}
      {LEVELS.map((level) => (
        <g key={level} className="noise-level">
          <line x1={LEFT} x2={RIGHT} y1={y(level)} y2={y(level)} />
          <text x={LEFT - 5} y={y(level) + 4} textAnchor="end" data-axis>
            {`+${fixed(level * 100, 0)}%`}
          </text>
        </g>
      ))}
      {MARKS.map((mark) => (
        <g key={mark} className="mark">
          <line x1={x(mark)} x2={x(mark)} y1={BOTTOM} y2={BOTTOM + 4} />
          <text x={x(mark)} y={BOTTOM + 16} textAnchor={mark === 3600 ? "end" : "middle"} data-axis>
            {mark === 3600 ? "3600 s" : mark}
          </text>
        </g>
      ))}
      <path
        className="noise"
        d={sub.seconds.map((s, i) => `${i ? "L" : "M"}${x(s)} ${y(sub.more_noise[i] ?? 0)}`).join("")}
      />
      {sub.limits.map((one, i) => {
        const there = place(one.seconds);
        const after = there < WIDTH / 2;
        return (
          <g
            key={one.key}
            className={one.least ? "sub-limit least" : "sub-limit"}
            data-says={`${one.words.text} ${one.least ? terms.from : terms.beyond} ${spoken(one.seconds)}`}
          >
            <line x1={there} x2={there} y1={10 + (rows[i] ?? 0) * ROW} y2={BOTTOM} />
            <text
              data-figure="ExposureLimit.seconds"
              x={there + (after ? 4 : -4)}
              y={14 + (rows[i] ?? 0) * ROW}
              textAnchor={after ? "start" : "end"}
            >
              {one.words.text} {spoken(one.seconds)}
            </text>
          </g>
        );
      })}
      {sub.recommended_s != null && (
        <g
          className="worth-planning"
          transform={`translate(${place(sub.recommended_s)} ${BOTTOM})`}
          data-says={phrase(terms.worthPlanningRecommendedSSPress, {
            recommended_s: plain(sub.recommended_s),
          })}
          aria-label={phrase(terms.planRecommendedSSTheSub, { recommended_s: plain(sub.recommended_s) })}
          {...press(() => settle({ sub: sub.recommended_s ?? sub.sub_s }, terms.subWorthPlanning))}
        >
          <path d="M0 -2l7 -12h-14z" />
        </g>
      )}
      <line className="sub-now" x1={now} x2={now} y1={TOP} y2={BOTTOM} />
      <text
        data-figure="ExposureSub.sub_s"
        className="sub-now-words num"
        x={now + (now > WIDTH - 110 ? -12 : 12)}
        y={(TOP + BOTTOM) / 2}
        textAnchor={now > WIDTH - 110 ? "end" : "start"}
      >
        {plain(sub.sub_s)} s
      </text>
      <circle
        className="handle"
        cx={now}
        cy={y(sub.now_more_noise)}
        r={9}
        {...slider(terms.plannedSub, sub.sub_s, [sub.low_s, sub.high_s], sub.words.text, {
          onPointerDown: hand.take({
            note: common.subPlanned,
            change: (from, to, free) => {
              const wanted = held(at(now + to.x - from.x));
              return { sub: free ? Math.max(1, Math.round(wanted)) : nearest(wanted) };
            },
          }),
          onKeyDown: (event: KeyboardEvent) => {
            const by = arrow(event);
            if (!by) return;
            event.preventDefault();
            move(by, event.shiftKey);
          },
        })}
      />
    </Plot>
  );
}

/** On which row the words of each line stand, so that none covers another. */
function rowsOf(lines: { at: number; chars: number }[]): number[] {
  const taken: [from: number, to: number][][] = [];
  return lines.map(({ at, chars }) => {
    const wide = chars * (window.innerWidth < 640 ? 9 : 6);
    const span: [number, number] = at < WIDTH / 2 ? [at, at + wide] : [at - wide, at];
    let row = 0;
    while (taken[row]?.some(([from, to]) => span[0] < to && from < span[1])) row += 1;
    taken[row] = [...(taken[row] ?? []), span];
    return row;
  });
}
