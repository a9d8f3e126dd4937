/** How far the sensor leans as the rig points up, to either side and upside down; the droop is drawn enlarged. */
import type { SpacingView } from "../../api/types";
import { Mark } from "../../drawing/Mark";

/** The tube's own picture, turned: along the light, and which way is down on it. */
const TURNS: Record<string, number> = {
  "tube up": -90,
  "level, east": 180,
  "level, west": 0,
  "upside down": 0,
};
const DROOP_DEG = 14;

export function Tilts({ tilts }: { tilts: SpacingView["tilts"] }) {
  const most = Math.max(...tilts.map((one) => one.tilt_um), 0);
  if (most === 0) return null;
  return (
    <ul className="tilts" aria-label="Tilt of the sensor by pointing">
      {tilts.map((one) => {
        const turn = TURNS[one.name] ?? 0;
        const side = one.name === "level, east" ? -1 : 1;
        return (
          <li key={one.name} data-testid="tilt">
            <svg viewBox="-34 -26 68 52" aria-hidden="true">
              <g transform={`rotate(${turn})`}>
                <rect x={-14} y={-8} width={40} height={16} className="tube" />
                <g transform={`rotate(${-side * DROOP_DEG * (one.tilt_um / most)} -14 0)`}>
                  <rect x={-24} y={-3} width={10} height={6} className="tube" />
                  <rect x={-32} y={-6} width={8} height={12} className="camera" />
                </g>
              </g>
            </svg>
            <span>
              {one.name}
              <br />
              <span className="num">
                <Mark verdict={one.verdict} size={11} /> {one.tilt_um.toFixed(0)} µm
              </span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
