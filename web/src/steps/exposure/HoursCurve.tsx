/** Signal to noise over hours of light: this rig, and any others chosen, under the same sky. */

import { Line, LineChart, ReferenceLine, XAxis, YAxis } from "recharts";
import type { ExposureView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { AXIS, Chart, keyed, said, WORDS } from "../../kit/chart";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { ticks } from "../../kit/ticks";
import { terms } from "../../terms/exposure";
import { phrase } from "../../terms/phrase";

export const TONES = ["var(--brass)", "var(--glass)", "var(--ok)", "var(--quiet)", "var(--warning)"];

export function HoursCurve({ view }: { view: ExposureView }) {
  const steps = view.hours.map((hour, i) => ({ hour, snr: view.curves.map((one) => one.snr[i] ?? 0) }));
  const end = view.hours[view.hours.length - 1] ?? 1;
  const top = Math.max(
    view.wished * 1.25,
    Math.min(view.wished * 2, ...[Math.max(...view.curves.map((one) => Math.max(...one.snr)))]),
  );
  const words = (hour: number) => {
    const at = steps.find((step) => step.hour === hour);
    const told = view.curves.map((one, i) => `${one.name} ${fixed(at?.snr[i], 1)}`).join(", ");
    return phrase(terms.hourHOfLightSignalTo, { hour: fixed(hour, 1), told });
  };
  return (
    <Chart
      name="hours-curve"
      className="hours-chart"
      label={phrase(terms.signalToNoiseOverHoursCurves, {
        curves: view.curves
          .map((one) =>
            phrase(terms.nameNeedsHoursWordsForWished, {
              name: one.name,
              hours_words: one.hours_words.text,
              wished: view.wished,
            }),
          )
          .join(", "),
      })}
      height={196}
      under={
        <figcaption>
          <ul className="curve-key">
            {view.curves.map((one, i) => (
              <li key={one.rig_id || "this"}>
                <svg viewBox="0 0 16 4" aria-hidden="true" className="curve-tone">
                  <line x1={0} x2={16} y1={2} y2={2} stroke={TONES[i % TONES.length]} strokeWidth={3} />
                </svg>
                {one.name}:{" "}
                <strong className="num">
                  <Says text={one.hours_words} />
                </strong>{" "}
                <span className="quiet">
                  <Says text={one.words} />
                  <Num of="ExposureCurve.goal_in_a_pixel">
                    {one.goal_in_a_pixel != null &&
                      phrase(terms.thenGoalInAPixelIn, { goal_in_a_pixel: fixed(one.goal_in_a_pixel, 1) })}
                  </Num>
                </span>
              </li>
            ))}
          </ul>
        </figcaption>
      }
    >
      <LineChart data={steps} margin={{ top: 8, right: 10, bottom: 0, left: 0 }}>
        <XAxis
          {...AXIS}
          dataKey="hour"
          type="number"
          domain={[0, end]}
          ticks={ticks(0, end, 6)}
          tickFormatter={(hour: number) => `${hour} h`}
          height={20}
        />
        <YAxis {...AXIS} domain={[0, top]} allowDataOverflow ticks={ticks(0, top, 4)} width={34} />
        <ReferenceLine
          y={view.wished}
          stroke="var(--quiet)"
          strokeDasharray="2 3"
          label={{
            value: phrase(terms.wishedWished, { wished: view.wished }),
            position: "insideTopLeft",
            ...keyed("ExposureView.wished"),
            ...WORDS,
          }}
        />
        {view.curves.map((one, i) => (
          <Line
            key={one.rig_id || "this"}
            name={one.name}
            dataKey={(step: (typeof steps)[number]) => step.snr[i] ?? 0}
            stroke={TONES[i % TONES.length]}
            strokeWidth={i === 0 ? 2.5 : 1.8}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        ))}
        {said(words)}
      </LineChart>
    </Chart>
  );
}
