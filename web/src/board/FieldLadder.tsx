/** What each rig frames well, on one logarithmic scale over the sizes of the targets: the gap no rig fills shows. */

import type { BoardRow, Target } from "../api/types";
import { fixed } from "../kit/quantity";
import { logScale } from "../kit/scale";
import { terms } from "../terms/board";
import { phrase } from "../terms/phrase";

const WIDTH = 1040;
const TICKS: [number, string][] = [
  [3, "3′"],
  [6, "6′"],
  [15, "15′"],
  [30, "30′"],
  [60, "1°"],
  [120, "2°"],
  [240, "4°"],
  [480, "8°"],
];

export function FieldLadder({ rows, targets }: { rows: BoardRow[]; targets: Target[] }) {
  const bars = rows.filter((row) => row.frames_well_arcmin);
  const sized = targets
    .filter((target) => target.major_arcmin)
    .sort((a, b) => (a.major_arcmin ?? 0) - (b.major_arcmin ?? 0));
  const ends = [
    ...bars.flatMap((row) => row.frames_well_arcmin ?? []),
    ...sized.map((t) => t.major_arcmin ?? 1),
  ];
  const low = Math.min(3, ...ends) * 0.95;
  const high = Math.max(480, ...ends) * 1.05;
  const x = logScale([low, high], [0, WIDTH]);
  const axis = bars.length * 21 + 8;
  const lanes: number[] = [];
  const placed = sized.map((target) => {
    const at = x(target.major_arcmin ?? 1);
    const half = target.name.length * 3.4 + 6;
    let lane = lanes.findIndex((end) => end < at - half);
    if (lane < 0) lane = lanes.length;
    lanes[lane] = at + half;
    return { target, at, lane };
  });
  const height = axis + 34 + lanes.length * 14;
  return (
    <section data-testid="ladder" className="ladder" aria-label={terms.fieldLadder} tabIndex={0}>
      <div>
        <h2>{terms.fieldLadder}</h2>
        <p className="quiet">{terms.sizesEachRigFramesWellFrom}</p>
      </div>
      <svg viewBox={`-4 0 ${WIDTH + 90} ${height}`} role="img" aria-label={describe(bars)}>
        {placed.map(({ target, at }) => (
          <line key={target.id} x1={at} x2={at} y1={0} y2={axis} className="ladder-target" />
        ))}
        {bars.map((row, index) => {
          const [from, to] = row.frames_well_arcmin ?? [1, 1];
          return (
            <g key={row.rig_id} className={row.dead ? "dead" : ""}>
              <rect
                x={x(from)}
                y={index * 21}
                width={x(to) - x(from)}
                height={14}
                rx={3}
                className="ladder-bar"
              />
              <text x={x(to) + 7} y={index * 21 + 12}>
                {row.name}
              </text>
            </g>
          );
        })}
        <line x1={0} x2={WIDTH} y1={axis} y2={axis} className="axis" />
        {TICKS.filter(([size]) => size >= low && size <= high).map(([size, words]) => (
          <g key={words} transform={`translate(${x(size)} ${axis})`}>
            <line y2={5} className="axis" />
            <text y={17} textAnchor="middle" className="quiet-text" data-axis>
              {words}
            </text>
          </g>
        ))}
        {placed.map(({ target, at, lane }) => (
          <g key={target.id}>
            <circle cx={at} cy={axis} r={3.5} className="ladder-dot" />
            <text x={at} y={axis + 32 + lane * 14} textAnchor="middle" className="ladder-name">
              {target.name}
            </text>
          </g>
        ))}
      </svg>
    </section>
  );
}

function describe(bars: BoardRow[]): string {
  const words = bars.map((row) => {
    const [from, to] = row.frames_well_arcmin ?? [0, 0];
    return phrase(terms.nameFromToToArcminutes, { name: row.name, from: fixed(from, 0), to: fixed(to, 0) });
  });
  return phrase(terms.sizesFramedWellWords, { words: words.join("; ") });
}
