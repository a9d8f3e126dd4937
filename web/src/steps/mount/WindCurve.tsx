/** Shake of the picture over the wind's speed: where it is felt, where it is too much, and the usual wind. */

import { Line, LineChart, ReferenceArea, ReferenceDot, ReferenceLine, XAxis, YAxis } from "recharts";
import type { MountView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { AXIS, Chart, said, WORDS } from "../../kit/chart";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { ticks } from "../../kit/ticks";
import { terms } from "../../terms/mount";
import { Phrase, phrase } from "../../terms/phrase";

type Winds = NonNullable<MountView["winds"]>;

export function WindCurve({ winds }: { winds: Winds }) {
  const last = winds.curve[winds.curve.length - 1];
  const shaken = winds.curve.some((one) => one.shake_px != null);
  if (!last || !shaken)
    return (
      <p className="quiet">
        <Phrase
          of={terms.momentNmNMInSpeed}
          with={{
            moment_nm: <Num of="MountWind.moment_nm">{fixed(winds.usual.moment_nm, 2)}</Num>,
            speed_m_s: <Num of="MountWind.speed_m_s">{fixed(winds.usual.speed_m_s, 1)}</Num>,
          }}
        />
      </p>
    );
  const top = Math.max(winds.too_much_px * 1.25, Math.min(last.shake_px ?? 0, winds.too_much_px * 2));
  const { usual } = winds;
  const words = (speed: number, shake: number | null | undefined) =>
    phrase(terms.speedMSShakesThePicture, { speed: fixed(speed, 1), shake: fixed(shake, 1) });
  const from = (what: string, speed: number | null | undefined) =>
    speed == null ? what : phrase(terms.whatFromSpeedMS, { what, speed: fixed(speed, 0) });
  const label = (value: string) => ({ value, position: "insideBottomLeft", ...WORDS }) as const;
  return (
    <Chart
      name="wind-curve"
      className="wind-figure"
      label={phrase(terms.shakeOverWindSpeedMS, { speed_m_s: words(usual.speed_m_s, usual.shake_px) })}
      height={172}
      under={
        <figcaption className="num">
          <Mark verdict={usual.verdict} /> {words(usual.speed_m_s, usual.shake_px)}{" "}
          <span className="quiet">
            (<Says text={winds.usual_words} />)
          </span>
        </figcaption>
      }
    >
      <LineChart data={[...winds.curve]} margin={{ top: 6, right: 8, bottom: 0, left: 0 }}>
        <ReferenceArea
          y1={winds.felt_px}
          y2={winds.too_much_px}
          fill="var(--warning)"
          fillOpacity={0.1}
          label={label(from("felt", winds.felt_m_s))}
        />
        <ReferenceArea
          y1={winds.too_much_px}
          y2={top}
          fill="var(--problem)"
          fillOpacity={0.12}
          label={label(from(terms.tooMuch, winds.too_much_m_s))}
        />
        <XAxis
          {...AXIS}
          dataKey="speed_m_s"
          type="number"
          domain={[0, last.speed_m_s]}
          tickCount={9}
          height={20}
          unit=" m/s"
        />
        <YAxis
          {...AXIS}
          domain={[0, top]}
          allowDataOverflow
          ticks={ticks(0, top, 4)}
          width={52}
          tickFormatter={(px: number) => `${px} px`}
        />
        <Line
          dataKey="shake_px"
          stroke="var(--glass)"
          strokeWidth={2}
          dot={false}
          isAnimationActive={false}
        />
        <ReferenceLine x={usual.speed_m_s} stroke="var(--quiet)" strokeDasharray="3 3" />
        <ReferenceDot x={usual.speed_m_s} y={usual.shake_px ?? 0} r={4} fill="var(--glass)" stroke="none" />
        {said((speed) => words(speed, winds.curve.find((one) => one.speed_m_s === speed)?.shake_px))}
      </LineChart>
    </Chart>
  );
}
