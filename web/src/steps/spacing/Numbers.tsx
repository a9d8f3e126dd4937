/** The numbers of the step, large, with the one that decides in the tone of its verdict. */
import type { Evaluation, SpacingView } from "../../api/types";
import { figureOf, Worked } from "../../kit/FigureValue";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";

interface Props {
  view: SpacingView;
  evaluation: Evaluation | null;
}

export function Numbers({ view, evaluation }: Props) {
  const { required_mm: required, sensor_mm: sensor, drawtube_mm: tube, travel_mm: travel } = view;
  const figure = (key: string) => figureOf(evaluation, key);
  return (
    <dl data-testid="spacing-numbers" className="spacing-numbers">
      <div>
        <dd>
          <Worked figure={figure("spacing.required_mm")}>
            {required == null ? "—" : fixed(required, 1)}
            <small>mm</small>
          </Worked>
        </dd>
        <dt>
          {required == null ? (
            "no distance asked for"
          ) : (
            <>
              required,{" "}
              <Worked figure={figure("spacing.glass_shift_mm")}>glass adds {fixed(view.glass_mm, 1)}</Worked>
            </>
          )}
        </dt>
      </div>
      <div>
        <dd>
          <Worked figure={figure("spacing.actual_mm")}>
            {sensor == null ? "—" : fixed(sensor, 1)}
            <small>mm</small>
          </Worked>
        </dd>
        <dt title={`worst case ± ${fixed(view.stack_worst_mm, 2)} mm`}>
          as laid,{" "}
          <Worked figure={figure("spacing.stack_rss_mm")}>stack ±{fixed(view.stack_rss_mm, 2)}</Worked>
        </dt>
      </div>
      {view.error_mm != null && (
        <div className={view.verdict}>
          <dd>
            <Mark verdict={view.verdict} size={15} />{" "}
            <Worked figure={figure("spacing.error_mm")}>
              {fixed(view.error_mm, 1, true)}
              <small>mm</small>
            </Worked>
          </dd>
          <dt>
            {view.error_words}
            {view.tolerance_mm != null && (
              <Worked figure={figure("spacing.tolerance_mm")}>
                , ±{fixed(view.tolerance_mm, 1)} allowed
              </Worked>
            )}
          </dt>
        </div>
      )}
      {tube != null && travel != null && (
        <div className={view.drawtube}>
          <dd>
            <Worked figure={figure("spacing.focuser_position_mm")}>
              {fixed(tube, 1)}
              <small>mm</small>
            </Worked>
          </dd>
          <dt>drawtube extension of {fixed(travel, 0)}</dt>
        </div>
      )}
    </dl>
  );
}
