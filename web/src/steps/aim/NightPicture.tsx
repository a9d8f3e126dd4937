/** A target's altitude through the night, over the real horizon, with twilight and the moon behind it. */

import type { NightCurve } from "../../api/types";
import { fixed } from "../../kit/quantity";

const WIDTH = 640;
const HEIGHT = 128;
const FOOT = 18;
const LEFT = 26;

export function NightPicture({ night }: { night: NightCurve }) {
  const x = (hour: number) => LEFT + (hour / night.facts.length_h) * (WIDTH - LEFT - 4);
  const y = (altitude: number) =>
    HEIGHT - FOOT - (Math.max(-8, Math.min(90, altitude)) / 90) * (HEIGHT - FOOT - 10);
  const line = (values: readonly number[], from = -8) =>
    values
      .map((value, i) => [night.hours[i] ?? 0, value] as const)
      .filter(([, value]) => value > from)
      .map(([hour, value], i) => `${i ? "L" : "M"}${fixed(x(hour), 1)} ${fixed(y(value), 1)}`)
      .join("");
  const ground = `M${x(night.hours[0] ?? 0)} ${y(0)}${night.horizon.map((value, i) => `L${fixed(x(night.hours[i] ?? 0), 1)} ${fixed(y(Math.max(0, value)), 1)}`).join("")}L${x(night.hours[night.hours.length - 1] ?? 24)} ${y(0)}Z`;
  return (
    <svg
      className="night-picture"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`Altitude through the night: ${fixed(night.usable_h, 1)} hours usable`}
    >
      {night.bands.map((band) => (
        <rect
          key={band.start}
          x={x(band.start)}
          y={4}
          width={Math.max(0, x(band.end) - x(band.start))}
          height={y(0) - 4}
          className={`band-${band.kind}`}
        />
      ))}
      {[night.floor_deg, night.limit_deg].map((level) => (
        <g key={level} className="level">
          <line x1={LEFT} x2={WIDTH - 4} y1={y(level)} y2={y(level)} />
          <text x={2} y={y(level) + 4}>
            {fixed(level, 0)}°
          </text>
        </g>
      ))}
      <path d={line(night.moon, 0)} className="moon-line" />
      <path d={ground} className="ground" />
      <path d={line(night.altitude, 0)} className="target-line" />
      {night.windows.map(([from, to]) => {
        const inside = night.hours
          .map((hour, i) => [hour, night.altitude[i] ?? 0] as const)
          .filter(([hour]) => hour >= from - 0.01 && hour <= to + 0.01);
        return (
          <path
            key={from}
            d={inside
              .map(([hour, value], i) => `${i ? "L" : "M"}${fixed(x(hour), 1)} ${fixed(y(value), 1)}`)
              .join("")}
            className="usable-line"
          />
        );
      })}
      {night.transit_altitude > 0 && (
        <line
          x1={x(night.transit.hour)}
          x2={x(night.transit.hour)}
          y1={y(night.transit_altitude) - 5}
          y2={y(night.transit_altitude) + 5}
          className="meridian"
        />
      )}
      {night.ticks.map(([hour, clock]) => (
        <text key={clock + String(hour)} x={x(hour)} y={HEIGHT - 4} textAnchor="middle">
          {clock}
        </text>
      ))}
    </svg>
  );
}
