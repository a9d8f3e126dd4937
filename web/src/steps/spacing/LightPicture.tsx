/** Light on the sensor: brightness from the axis to the corner, contours, the prism and its shade. */

import { useId } from "react";
import type { LightOnSensor } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed } from "../../kit/quantity";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

const WIDTH = 196;
const HEIGHT = 150;

export function LightPicture({ light }: { light: LightOnSensor }) {
  const id = useId();
  const reach = light.prism ? light.prism[0] + light.prism[2] : 0;
  const scale = Math.min(
    (WIDTH - 4) / light.width_mm,
    (HEIGHT - 4) / (light.height_mm / 2 + Math.max(light.height_mm / 2, reach)),
  );
  const cx = WIDTH / 2;
  const cy = light.prism ? HEIGHT - 2 - (light.height_mm / 2) * scale : HEIGHT / 2;
  const corner = Math.hypot(light.width_mm, light.height_mm) / 2;
  const [w, h] = [light.width_mm * scale, light.height_mm * scale];
  const cell = { w: w / 36, h: h / 27 };
  return (
    <figure data-testid="light-picture" className="light-picture">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={phrase(terms.lightOnTheSensorCornersCorner, { corner: fixed(light.corner * 100, 0) })}
      >
        <defs>
          <radialGradient id={id} gradientUnits="userSpaceOnUse" cx={cx} cy={cy} r={corner * scale}>
            {light.profile.map(([at, share]) => (
              <stop key={at} offset={at / corner} stopColor="var(--lit)" stopOpacity={0.06 + 0.84 * share} />
            ))}
          </radialGradient>
          <clipPath id={`${id}c`}>
            <rect x={cx - w / 2} y={cy - h / 2} width={w} height={h} />
          </clipPath>
        </defs>
        <rect x={cx - w / 2} y={cy - h / 2} width={w} height={h} fill={`url(#${id})`} className="lit" />
        <g clipPath={`url(#${id}c)`}>
          {light.contours.map(([level, radius], i) => (
            <g key={level} className="contour">
              <circle cx={cx} cy={cy} r={radius * scale} />
              {(radius - (light.contours[i - 1]?.[1] ?? 0)) * scale > 10 && (
                <text
                  data-figure="SensorLight.contours"
                  x={cx}
                  y={cy + radius * scale - 3}
                  textAnchor="middle"
                >
                  {fixed(level * 100, 0)}
                </text>
              )}
            </g>
          ))}
          {light.shade.map(([x, y, share]) => (
            <rect
              key={`${x},${y}`}
              x={cx + x * scale - cell.w / 2}
              y={cy - y * scale - cell.h / 2}
              width={cell.w + 0.3}
              height={cell.h + 0.3}
              className="shade"
              opacity={Math.min(0.9, share * 2)}
            />
          ))}
        </g>
        {light.prism && (
          <rect
            x={cx - (light.prism[1] / 2) * scale}
            y={cy - (light.prism[0] + light.prism[2]) * scale}
            width={light.prism[1] * scale}
            height={light.prism[2] * scale}
            className="prism"
            transform={`rotate(${light.prism[3]} ${cx} ${cy})`}
          />
        )}
      </svg>
      <figcaption className="quiet num">
        <Phrase
          of={terms.lightOnTheSensorCornersCorner2}
          with={{ corner: <Num of="SensorLight.corner">{fixed(light.corner * 100, 0)}</Num> }}
        />
        {light.tight && light.tight_mm != null && light.needed_mm != null && (
          <>
            <br />
            <Phrase
              of={terms.leastRoomTightTightMmOf}
              with={{
                tight: light.tight,
                tight_mm: <Num of="SensorLight.tight_mm">{fixed(light.tight_mm, 1)}</Num>,
                needed_mm: <Num of="SensorLight.needed_mm">{fixed(light.needed_mm, 1)}</Num>,
              }}
            />
          </>
        )}
        {light.prism && light.prism_clear_mm != null && (
          <>
            <br />
            <Phrase
              of={terms.prismEdgePrismMmOffThe}
              with={{
                prism: <Num of="SensorLight.prism">{fixed(light.prism[0], 1)}</Num>,
                prism_clear_mm: <Num of="SensorLight.prism_clear_mm">{fixed(light.prism_clear_mm, 1)}</Num>,
              }}
            />
          </>
        )}
      </figcaption>
    </figure>
  );
}
