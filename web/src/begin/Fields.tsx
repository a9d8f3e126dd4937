/** The field of a rig over each target, all at one scale. */
import type { Designed } from "../api/types";
import { Says } from "../kit/Says";
import { terms } from "../terms/begin";

const BOX = 92;
const HIGH = 66;

export function Fields({ designed }: { designed: Designed }) {
  const [wide = 1, high = 1] = designed.field_deg;
  const scale = Math.min((BOX - 22) / wide, (HIGH - 18) / high);
  return (
    <ul className="request-fields" aria-label={terms.fieldOverTheTargetsToScale}>
      {designed.targets.map((target) => {
        // Major axis across: a camera can be turned; what would be less than a dot is drawn as one.
        const rx = Math.max((target.major_deg * scale) / 2, 1);
        const ry = Math.max((target.minor_deg * scale) / 2, 1);
        return (
          <li key={target.name} title={target.words.text}>
            <svg viewBox={`0 0 ${BOX} ${HIGH}`} aria-hidden="true">
              <ellipse cx={BOX / 2} cy={HIGH / 2} rx={rx} ry={ry} className="request-target" />
              <rect
                x={BOX / 2 - (wide * scale) / 2}
                y={HIGH / 2 - (high * scale) / 2}
                width={wide * scale}
                height={high * scale}
                className={target.counts > 0 ? "request-frame" : "request-frame faint"}
              />
            </svg>
            <span>{target.name}</span>
            <span className="quiet num">
              <Says text={target.words} />
            </span>
          </li>
        );
      })}
    </ul>
  );
}
