/** A target's altitude through the night, over the real horizon, with twilight and the moon behind it. */
import { Area, ComposedChart, Line, ReferenceArea, ReferenceLine, XAxis, YAxis } from "recharts";
import type { NightCurve } from "../../api/types";
import { AXIS, Chart, said } from "../../kit/chart";
import { fixed } from "../../kit/quantity";
import { terms } from "../../terms/aim";
import { phrase } from "../../terms/phrase";

const BANDS = {
  day: "color-mix(in srgb, var(--brass) 16%, var(--ink))",
  twilight: "color-mix(in srgb, var(--glass) 16%, var(--ink))",
  dark: "var(--bench)",
} as const;
const up = (altitude: number | undefined) => (altitude !== undefined && altitude > 0 ? altitude : null);

export function NightPicture({ night }: { night: NightCurve }) {
  const steps = night.hours.map((hour, i) => {
    const altitude = up(night.altitude[i]);
    const free = night.windows.some(([from, to]) => hour >= from - 0.01 && hour <= to + 0.01);
    return {
      hour,
      clock: night.clocks[i] ?? "",
      altitude,
      usable: free ? altitude : null,
      moon: up(night.moon[i]),
      horizon: Math.max(0, night.horizon[i] ?? 0),
    };
  });
  const clocks = new Map(night.ticks);
  const words = (hour: number) => {
    const step = steps.find((one) => one.hour === hour);
    if (!step) return "";
    const where = step.altitude === null ? terms.belowTheHorizon : `${fixed(step.altitude, 0)}° up`;
    const state = step.usable !== null ? terms.darkAndFree : "";
    const moon = step.moon === null ? "" : phrase(terms.moonMoonUp, { moon: fixed(step.moon, 0) });
    return `${step.clock}: ${where}${state}${moon}`;
  };
  return (
    <Chart
      name="night-picture"
      label={phrase(terms.altitudeThroughTheNightUsableH, { usable_h: fixed(night.usable_h, 1) })}
      height={132}
    >
      <ComposedChart data={steps} margin={{ top: 4, right: 18, bottom: 0, left: 0 }}>
        {night.bands.map((band) => (
          <ReferenceArea
            key={band.start}
            x1={Math.max(0, band.start)}
            x2={band.end}
            fill={BANDS[band.kind]}
            fillOpacity={1}
            ifOverflow="hidden"
          />
        ))}
        <XAxis
          {...AXIS}
          dataKey="hour"
          type="number"
          domain={[0, night.facts.length_h]}
          ticks={[...clocks.keys()]}
          tickFormatter={(hour: number) => clocks.get(hour) ?? ""}
          interval={1}
          height={18}
          allowDataOverflow
        />
        <YAxis
          {...AXIS}
          domain={[0, 90]}
          ticks={[night.floor_deg, night.limit_deg, 90]}
          interval={0}
          tickFormatter={(altitude: number) => `${fixed(altitude, 0)}°`}
          width={30}
        />
        {[night.floor_deg, night.limit_deg].map((level) => (
          <ReferenceLine key={level} y={level} stroke="var(--line)" strokeDasharray="2 4" />
        ))}
        <Line dataKey="moon" stroke="var(--quiet)" strokeDasharray="1 3" strokeWidth={1.5} {...PLAIN} />
        <Area dataKey="horizon" stroke="none" fill="var(--line)" fillOpacity={1} {...PLAIN} />
        <Line dataKey="altitude" stroke="var(--glass)" strokeWidth={1.3} {...PLAIN} />
        <Line
          dataKey="usable"
          className="usable-line"
          stroke="var(--brass)"
          strokeWidth={3}
          strokeLinecap="round"
          {...PLAIN}
        />
        {night.transit_altitude > 0 && (
          <ReferenceLine
            segment={[
              { x: night.transit.hour, y: night.transit_altitude - 4 },
              { x: night.transit.hour, y: night.transit_altitude + 4 },
            ]}
            stroke="var(--chalk)"
            strokeWidth={1.5}
          />
        )}
        {said(words)}
      </ComposedChart>
    </Chart>
  );
}

const PLAIN = { dot: false, activeDot: false, isAnimationActive: false } as const;
