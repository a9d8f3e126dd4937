/** A millimetre rule under a drawing. */
import type { Units } from "../api/types";
import { terms } from "../terms/kit";
import { ticks } from "./ticks";

interface Props {
  from: number;
  to: number;
  x: (mm: number) => number;
  y: number;
  units: Units;
}

export function MmRule({ from, to, x, y, units }: Props) {
  const perUnit = units === "imperial" ? 25.4 : 1;
  const [low, high] = [from / perUnit, to / perUnit];
  const wide = Math.abs(x(to) - x(from));
  const major = ticks(low, high, Math.max(3, Math.round(wide / 65)));
  const step = (major[1] ?? 1) - (major[0] ?? 0);
  const minor = ticks(low, high, Math.round(((high - low) / step) * 10));
  return (
    <g data-testid="mm-rule" className="mm-rule">
      <line x1={x(from)} x2={x(to)} y1={y} y2={y} />
      {minor.map((tick) => (
        <line key={`m${tick}`} x1={x(tick * perUnit)} x2={x(tick * perUnit)} y1={y} y2={y + 3} />
      ))}
      {major.map((tick) => (
        <g key={tick} transform={`translate(${x(tick * perUnit)} ${y})`}>
          <line y2={7} />
          <text y={19} textAnchor="middle">
            {tick}
          </text>
        </g>
      ))}
      <text x={x(to) + 18} y={y + 19} data-testid="unit" className="unit">
        {units === "imperial" ? terms.inch : "mm"}
      </text>
    </g>
  );
}
