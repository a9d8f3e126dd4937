/** The field of a rig with one target in it, both at the same scale. */

import { Link } from "react-router";
import type { BoardRow, Cell, Target } from "../api/types";
import { MarkShape } from "../kit/Mark";
import { fixed } from "../kit/quantity";
import { terms } from "../terms/board";
import { phrase } from "../terms/phrase";

const WIDTH = 132;
const HEIGHT = 92;

export function FieldCell({ row, cell, target }: { row: BoardRow; cell: Cell; target: Target | undefined }) {
  const name = target?.name ?? cell.target_id;
  if (!row.field) {
    return (
      <Link
        to={`/rigs/${row.rig_id}/optics`}
        className="cell empty-cell"
        aria-label={phrase(terms.nameOnName2NoFieldYet, { name: row.name, name2: name })}
      >
        {terms.noFieldYet}
      </Link>
    );
  }
  // The frame takes up the same share of every cell of a row; the target is drawn at that scale.
  const scale = Math.min(86 / row.field[0], 58 / row.field[1]);
  const [width, height] = [row.field[0] * scale, row.field[1] * scale];
  const [cx, cy] = [WIDTH / 2, HEIGHT / 2 - 8];
  // A size that would show as less than a dot is drawn as a dot.
  const rx = Math.max(((cell.major_deg ?? 0) * scale) / 2, 1);
  const ry = Math.max(((cell.minor_deg ?? 0) * scale) / 2, 1);
  const dead = row.dead;
  const verdict = dead ? "problem" : cell.verdict;
  const scored = cell.score == null || dead ? "" : ` · ${fixed(cell.score, 0)}`;
  const clip = `clip-${row.rig_id}-${cell.target_id}`;
  return (
    <Link
      to={`/rigs/${row.rig_id}/aim?target=${encodeURIComponent(cell.target_id)}`}
      className={`cell ${cell.framed ? "framed" : ""} ${dead ? "dead" : ""}`}
      aria-label={phrase(terms.nameOnName2CellScoredVerdict, {
        name: row.name,
        name2: name,
        cell: cell.words.text || terms.sizeUnknown,
        scored,
        verdict,
        which: cell.framed ? terms.framed : "",
      })}
    >
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
        <clipPath id={clip}>
          <rect width={WIDTH} height={HEIGHT - 18} />
        </clipPath>
        <g clipPath={`url(#${clip})`}>
          {/* North is up in a landscape frame; angles run towards the east, on the left. The major axis lies along x here. */}
          <ellipse
            cx={cx}
            cy={cy}
            rx={rx}
            ry={ry}
            transform={`rotate(${-cell.turn_deg} ${cx} ${cy})`}
            className="target-shape"
          />
          <rect
            x={cx - width / 2}
            y={cy - height / 2}
            width={width}
            height={height}
            className="field-frame"
          />
        </g>
        <g transform={`translate(8 ${HEIGHT - 16}) scale(0.75)`}>
          <MarkShape verdict={verdict} />
        </g>
        <text data-figure="BoardCell.words" x={24} y={HEIGHT - 6} className="cell-words">
          {cell.words.text}
        </text>
      </svg>
    </Link>
  );
}
