/** Shake of the picture over the wind's speed: where it is felt, where it is too much, and the usual wind. */

import type { LoadView } from "../../api/types";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";
import { ticks } from "../../kit/ticks";

const WIDTH = 560;
const HEIGHT = 168;
const LEFT = 34;
const FOOT = 22;
type Winds = NonNullable<LoadView["winds"]>;

export function WindCurve({ winds }: { winds: Winds }) {
  const last = winds.curve[winds.curve.length - 1];
  const shaken = winds.curve.some((one) => one.shake_px != null);
  if (!last || !shaken)
    return (
      <p className="quiet">
        {fixed(winds.usual.moment_nm, 2)} N·m in {fixed(winds.usual.speed_m_s, 1)} m/s. Shake is told once the
        pixel scale is known.
      </p>
    );
  const most = last.speed_m_s;
  const top = Math.max(winds.too_much_px * 1.25, Math.min(last.shake_px ?? 0, winds.too_much_px * 2));
  const x = (speed: number) => LEFT + (speed / most) * (WIDTH - LEFT - 8);
  const y = (px: number) => HEIGHT - FOOT - (Math.min(px, top) / top) * (HEIGHT - FOOT - 10);
  const line = winds.curve
    .filter((one) => (one.shake_px ?? 0) <= top)
    .map((one, i) => `${i ? "L" : "M"}${fixed(x(one.speed_m_s), 1)} ${fixed(y(one.shake_px ?? 0), 1)}`)
    .join("");
  const usual = winds.usual;
  const words = `${fixed(usual.speed_m_s, 1)} m/s shakes the picture by ${fixed(usual.shake_px ?? 0, 1)} px`;
  return (
    <figure className="wind-figure">
      <svg
        data-testid="wind-curve"
        className="wind-curve"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`Shake over wind: ${words}`}
      >
        <rect
          x={LEFT}
          y={y(winds.too_much_px)}
          width={WIDTH - LEFT - 8}
          height={y(winds.felt_px) - y(winds.too_much_px)}
          className="felt"
        />
        <rect
          x={LEFT}
          y={6}
          width={WIDTH - LEFT - 8}
          height={y(winds.too_much_px) - 6}
          className="too-much"
        />
        <text x={LEFT + 8} y={y(winds.felt_px) - 5}>
          felt{winds.felt_m_s == null ? "" : ` from ${fixed(winds.felt_m_s, 0)} m/s`}
        </text>
        <text x={LEFT + 8} y={y(winds.too_much_px) - 5}>
          too much{winds.too_much_m_s == null ? "" : ` from ${fixed(winds.too_much_m_s, 0)} m/s`}
        </text>
        <path d={line} className="shake" />
        <path d={`M${x(usual.speed_m_s)} ${HEIGHT - FOOT}V10`} className="usual" />
        <circle cx={x(usual.speed_m_s)} cy={y(usual.shake_px ?? 0)} r={4} className="usual-dot" />
        {ticks(0, top, 4).map((px) => (
          <text key={px} x={LEFT - 6} y={y(px) + 4} textAnchor="end">
            {px}
          </text>
        ))}
        {ticks(0, most, 8).map((speed) => (
          <text key={speed} x={x(speed)} y={HEIGHT - 6} textAnchor="middle">
            {speed}
          </text>
        ))}
        <text x={WIDTH - 12} y={HEIGHT - FOOT - 6} textAnchor="end">
          px of shake, over m/s
        </text>
      </svg>
      <figcaption className="num">
        <Mark verdict={usual.verdict} /> {words} <span className="quiet">({winds.usual_words})</span>
      </figcaption>
    </figure>
  );
}
