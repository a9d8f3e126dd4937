/** The numbers of the step, large, with the one that decides in the tone of its verdict. */

import type { Evaluation, SpacingView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { figureOf, Worked } from "../../kit/FigureValue";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

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
            <Num of="SpacingView.required_mm" still>
              {required == null ? "—" : fixed(required, 1)}
            </Num>
            <small>{common.mm}</small>
          </Worked>
        </dd>
        <dt>
          {required == null ? (
            terms.noDistanceAskedFor
          ) : (
            <Phrase
              of={terms.requiredGlassMm}
              with={{
                glass_mm: (
                  <Worked figure={figure("spacing.glass_shift_mm")}>
                    <Phrase
                      of={terms.glassAddsGlassMm}
                      with={{
                        glass_mm: (
                          <Num of="SpacingView.glass_mm" still>
                            {fixed(view.glass_mm, 1)}
                          </Num>
                        ),
                      }}
                    />
                  </Worked>
                ),
              }}
            />
          )}
        </dt>
      </div>
      <div>
        <dd>
          <Worked figure={figure("spacing.actual_mm")}>
            <Num of="SpacingView.sensor_mm" still>
              {sensor == null ? "—" : fixed(sensor, 1)}
            </Num>
            <small>{common.mm}</small>
          </Worked>
        </dd>
        <dt title={phrase(terms.worstCaseStackWorstMmMm, { stack_worst_mm: fixed(view.stack_worst_mm, 2) })}>
          <Phrase
            of={terms.asLaidStackRssMm}
            with={{
              stack_rss_mm: (
                <Worked figure={figure("spacing.stack_rss_mm")}>
                  <Phrase
                    of={terms.stackStackRssMm}
                    with={{
                      stack_rss_mm: (
                        <Num of="SpacingView.stack_rss_mm" still>
                          {fixed(view.stack_rss_mm, 2)}
                        </Num>
                      ),
                    }}
                  />
                </Worked>
              ),
            }}
          />
        </dt>
      </div>
      {view.error_mm != null && (
        <div className={view.verdict} data-testid="spacing-error" data-verdict={view.verdict}>
          <dd>
            <Mark verdict={view.verdict} size={15} />{" "}
            <Worked figure={figure("spacing.error_mm")}>
              <Num of="SpacingView.error_mm" still>
                {fixed(view.error_mm, 1, true)}
              </Num>
              <small>{common.mm}</small>
            </Worked>
          </dd>
          <dt>
            <Says text={view.error_words} />
            {view.tolerance_mm != null && (
              <Worked figure={figure("spacing.tolerance_mm")}>
                <Phrase
                  of={terms.toleranceMmAllowed}
                  with={{
                    tolerance_mm: (
                      <Num of="SpacingView.tolerance_mm" still>
                        {fixed(view.tolerance_mm, 1)}
                      </Num>
                    ),
                  }}
                />
              </Worked>
            )}
          </dt>
        </div>
      )}
      {tube != null && travel != null && (
        <div className={view.drawtube}>
          <dd>
            <Worked figure={figure("spacing.focuser_position_mm")}>
              <Num of="SpacingView.drawtube_mm" still>
                {fixed(tube, 1)}
              </Num>
              <small>{common.mm}</small>
            </Worked>
          </dd>
          <dt>
            <Phrase
              of={terms.drawtubeExtensionOfTravel}
              with={{ travel: <Num of="SpacingView.travel_mm">{fixed(travel, 0)}</Num> }}
            />
          </dt>
        </div>
      )}
    </dl>
  );
}
