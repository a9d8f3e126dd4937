import type { Evaluation, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed } from "../../kit/quantity";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/optics";
import { Phrase, phrase } from "../../terms/phrase";

const SIZE = 176;

/** The image circle laid over the sensor, at one scale. */
export function CircleOverSensor({ evaluation, rig }: { evaluation: Evaluation | null; rig: Rig }) {
  const camera = rig.path?.find((entry) => entry.part.kind === "camera")?.part;
  const value = (key: string) => evaluation?.figures.find((figure) => figure.key === key)?.value;
  const [circle, share] = [value("optics.image_circle_mm"), value("optics.circle_coverage")];
  if (camera?.kind !== "camera") return <p className="empty">{terms.needsACamera}</p>;
  const width = (camera.sensor.width_px * camera.sensor.pixel_um) / 1000;
  const height = (camera.sensor.height_px * camera.sensor.pixel_um) / 1000;
  const scale = (SIZE - 16) / Math.max(circle ?? 0, Math.hypot(width, height));
  const middle = SIZE / 2;
  return (
    <div className="circle-view">
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="img"
        aria-label={phrase(terms.sensorWidthByHeightMmIn, {
          width: fixed(width, 1),
          height: fixed(height, 1),
          circle: circle == null ? common.unknown : fixed(circle, 0),
        })}
      >
        {circle && <circle cx={middle} cy={middle} r={(circle / 2) * scale} className="image-circle" />}
        <rect
          x={middle - (width / 2) * scale}
          y={middle - (height / 2) * scale}
          width={width * scale}
          height={height * scale}
          className="sensor-outline"
        />
        {circle && (
          <text
            data-figure="optics.image_circle_mm"
            x={middle}
            y={middle - (circle / 2) * scale + 13}
            textAnchor="middle"
          >
            <Phrase of={terms.circleMm} with={{ circle: fixed(circle, 0) }} />
          </text>
        )}
        <text data-figure="Sensor.width_px" x={middle} y={middle + 4} textAnchor="middle">
          {fixed(width, 1)} × {fixed(height, 1)}
        </text>
      </svg>
      <p className="quiet num">
        {share === undefined ? (
          terms.noImageCircleIsGiven
        ) : evaluation?.findings.find((finding) => finding.code === "O1")?.verdict === "ok" ? (
          terms.allOfTheSensorInside
        ) : (
          <Phrase
            of={terms.shareOfTheSensorInside}
            with={{ share: <Num of="optics.circle_coverage">{fixed(share * 100, 0)}</Num> }}
          />
        )}
      </p>
    </div>
  );
}
