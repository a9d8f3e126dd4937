/** How far the sensor leans as the rig points up, to either side and upside down; the droop is drawn enlarged. */

import type { SpacingView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";
import { terms } from "../../terms/spacing";

/** How the tube is turned on the picture; mirrored where the camera stands on the other side of it. */
const POSES: Record<string, string> = {
  "tube up": "rotate(-90)",
  "level, east": "scale(-1 1)",
  "level, west": "",
  "upside down": "scale(1 -1)",
};
const DROOP_DEG = 14;

interface Props {
  tilts: SpacingView["tilts"];
  side: boolean;
}

export function Tilts({ tilts, side }: Props) {
  const most = Math.max(...tilts.map((one) => one.tilt_um), 0);
  if (most === 0) return null;
  return (
    <ul className="tilts" aria-label={terms.tiltOfTheSensorByPointing}>
      {tilts.map((one) => {
        // Down is down on the picture, whichever way the tube lies on it.
        const droop = (one.name === "upside down" ? 1 : -1) * DROOP_DEG * (one.tilt_um / most);
        return (
          <li key={one.name} data-testid="tilt">
            <svg viewBox={side ? "-44 -44 88 88" : "-34 -26 68 52"} aria-hidden="true">
              <g transform={POSES[one.name] ?? ""}>
                <rect x={-14} y={-8} width={40} height={16} className="tube" />
                <g transform={side ? "translate(14 -8) rotate(90) translate(14 0)" : ""}>
                  <g transform={`rotate(${droop} -14 0)`}>
                    <rect x={-24} y={-3} width={10} height={6} className="tube" />
                    <rect x={-32} y={-6} width={8} height={12} className="camera" />
                  </g>
                </g>
              </g>
            </svg>
            <span>
              {one.name}
              <br />
              <Mark verdict={one.verdict} size={11} />{" "}
              <span className="num">
                <Num of="TiltPose.tilt_um">{fixed(one.tilt_um, 0)}</Num> µm
              </span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
