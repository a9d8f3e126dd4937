/** Focus over temperature: the marks, the line through them, and the slope that the tube alone gives. */
import { ComposedChart, Line, Scatter, XAxis, YAxis } from "recharts";
import type { FocusLine } from "../api/types";
import { AXIS, Chart, said } from "../kit/chart";
import { fixed } from "../kit/quantity";
import { ticks } from "../kit/ticks";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase, phrase } from "../terms/phrase";

const TONES = ["var(--brass)", "var(--glass)", "var(--ok)", "var(--quiet)"];

export function FocusPlot({ line }: { line: FocusLine }) {
  const decimals = line.unit === "mm" ? 2 : 0;
  const warm = line.points.map((one) => one.temperature_c);
  const places = line.points.map((one) => one.place);
  const low = Math.floor(Math.min(...warm)) - 1;
  const high = Math.ceil(Math.max(...warm)) + 1;
  const span = Math.max(Math.max(...places) - Math.min(...places), line.unit === "mm" ? 0.1 : 20);
  const bottom = Math.min(...places) - span * 0.3;
  const top = Math.max(...places) + span * 0.3;
  const slope = line.slope;
  const words =
    slope == null
      ? phrase(terms.noSlopeYetBecause, { because: line.because.text })
      : `${fixed(slope, line.unit === "mm" ? 4 : 1, true)}${line.slope_error != null ? ` ± ${fixed(line.slope_error, line.unit === "mm" ? 4 : 1)}` : ""} ${line.unit}/K` +
        `${line.scatter != null ? phrase(terms.marksScatterScatterUnit, { scatter: fixed(line.scatter, decimals), unit: line.unit }) : ""}` +
        `${line.expected != null ? phrase(terms.theTubeAloneGivesExpected, { expected: fixed(line.expected, 4, true) }) : ""}`;
  const at = (shift: number, by: number, t: number) => shift + by * (t - line.middle_c);
  const ends = [low, high].map((t) => ({
    t,
    ...Object.fromEntries(line.shifts.map((one, i) => [`line${i}`, at(one.place, slope ?? 0, t)])),
    ...(line.expected != null && line.shifts[0] ? { tube: at(line.shifts[0].place, line.expected, t) } : {}),
  }));
  return (
    <Chart
      name="focus-line"
      label={phrase(terms.focusOverTemperatureUnitWords, { unit: line.unit, words })}
      height={190}
      under={
        <figcaption className="num">
          <Phrase
            of={terms.focusOverTemperatureWhichWordsX}
            with={{
              which: line.unit === "mm" ? terms.drawtube : terms.motor,
              words,
              x: (
                <span className="quiet">
                  {" "}
                  {line.shifts
                    .map((one) =>
                      phrase(terms.filterPlaceAtMiddleCC, {
                        filter: one.filter || common.noFilter,
                        place: fixed(one.place, decimals),
                        middle_c: fixed(line.middle_c, 0),
                      }),
                    )
                    .join("; ")}
                </span>
              ),
            }}
          />
        </figcaption>
      }
    >
      <ComposedChart margin={{ top: 8, right: 12, bottom: 0, left: 4 }} data={ends}>
        <XAxis
          {...AXIS}
          dataKey="t"
          type="number"
          domain={[low, high]}
          ticks={ticks(low, high, 6)}
          tickFormatter={(t: number) => `${t} °C`}
          height={20}
        />
        <YAxis
          {...AXIS}
          domain={[bottom, top]}
          ticks={ticks(bottom, top, 4)}
          width={52}
          tickFormatter={(y: number) => fixed(y, line.unit === "mm" ? 2 : 0)}
        />
        {slope != null &&
          line.shifts.map((one, i) => (
            <Line
              key={one.filter}
              dataKey={`line${i}`}
              stroke={TONES[i % TONES.length]}
              dot={false}
              isAnimationActive={false}
            />
          ))}
        {line.expected != null && (
          <Line
            dataKey="tube"
            stroke="var(--quiet)"
            strokeDasharray="3 4"
            dot={false}
            isAnimationActive={false}
          />
        )}
        {line.shifts.map((one, i) => (
          <Scatter
            key={one.filter}
            data={line.points
              .filter((point) => point.filter === one.filter)
              .map((point) => ({ t: point.temperature_c, place: point.place }))}
            dataKey="place"
            fill={TONES[i % TONES.length] ?? "var(--brass)"}
            isAnimationActive={false}
          />
        ))}
        {said((t) => `${fixed(t, 1)} °C`)}
      </ComposedChart>
    </Chart>
  );
}
