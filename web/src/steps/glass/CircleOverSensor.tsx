import type { Evaluation, Rig } from "../../api/types";
import { fixed } from "../../kit/quantity";

const SIZE = 176;

/** The image circle laid over the sensor, at one scale. */
export function CircleOverSensor({ evaluation, rig }: { evaluation: Evaluation | null; rig: Rig }) {
  const camera = rig.path?.find((entry) => entry.part.kind === "camera")?.part;
  const value = (key: string) => evaluation?.figures.find((figure) => figure.key === key)?.value;
  const [circle, share] = [value("optics.image_circle_mm"), value("optics.circle_coverage")];
  if (camera?.kind !== "camera") return <p className="empty">Needs a camera.</p>;
  const width = (camera.sensor.width_px * camera.sensor.pixel_um) / 1000;
  const height = (camera.sensor.height_px * camera.sensor.pixel_um) / 1000;
  const scale = (SIZE - 16) / Math.max(circle ?? 0, Math.hypot(width, height));
  const middle = SIZE / 2;
  return (
    <div className="circle-view">
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="img"
        aria-label={`Sensor ${fixed(width, 1)} by ${fixed(height, 1)} mm in a circle of ${circle == null ? "unknown" : fixed(circle, 0)} mm`}
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
          <text x={middle} y={middle - (circle / 2) * scale + 13} textAnchor="middle">
            {fixed(circle, 0)} mm
          </text>
        )}
        <text x={middle} y={middle + 4} textAnchor="middle">
          {fixed(width, 1)} × {fixed(height, 1)}
        </text>
      </svg>
      <p className="quiet num">
        {share === undefined
          ? "no image circle is given"
          : evaluation?.findings.find((finding) => finding.code === "O1")?.verdict === "holds"
            ? "all of the sensor inside"
            : `${fixed(share * 100, 0)} % of the sensor inside`}
      </p>
    </div>
  );
}
