/** The numbers of the step, large, with the one that decides in the tone of its verdict. */
import type { SpacingView } from "../../api/types";
import { Mark } from "../../drawing/Mark";

export function Numbers({ view }: { view: SpacingView }) {
  const { required_mm: required, sensor_mm: sensor, drawtube_mm: tube, travel_mm: travel } = view;
  const error = required != null && sensor != null ? sensor - required : null;
  return (
    <dl className="spacing-numbers">
      <div>
        <dd>
          {required == null ? "—" : required.toFixed(1)}
          <small>mm</small>
        </dd>
        <dt>
          {required == null
            ? "no distance asked for"
            : `required${view.glass_mm > 0.05 ? `, glass adds ${view.glass_mm.toFixed(1)}` : ""}`}
        </dt>
      </div>
      <div>
        <dd>
          {sensor == null ? "—" : sensor.toFixed(1)}
          <small>mm</small>
        </dd>
        <dt title={`worst case ± ${view.stack_worst_mm.toFixed(2)} mm`}>
          as laid, stack ±{view.stack_rss_mm.toFixed(2)}
        </dt>
      </div>
      {error != null && (
        <div className={view.verdict}>
          <dd>
            <Mark verdict={view.verdict} size={15} />{" "}
            {Math.abs(error) < 0.05 ? "0.0" : `${error > 0 ? "+" : "−"}${Math.abs(error).toFixed(1)}`}
            <small>mm</small>
          </dd>
          <dt>
            {Math.abs(error) < 0.05 ? "on its mark" : error > 0 ? "too long" : "too short"}
            {view.tolerance_mm != null && `, ±${view.tolerance_mm.toFixed(1)} allowed`}
          </dt>
        </div>
      )}
      {tube != null && travel != null && (
        <div className={tube < 0 || tube > travel ? "breaks" : ""}>
          <dd>
            {tube.toFixed(1)}
            <small>mm</small>
          </dd>
          <dt>drawtube out of {travel.toFixed(0)}</dt>
        </div>
      )}
    </dl>
  );
}
