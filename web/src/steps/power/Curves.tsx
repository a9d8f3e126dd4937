/** The night from dusk on: what is drawn and what is left, and how far the coldest glass stays above the dew. */
import { Area, ComposedChart, Line, LineChart, ReferenceArea, ReferenceLine, XAxis, YAxis } from "recharts";
import type { PowerView } from "../../api/types";
import { AXIS, Chart, keyed, said, WORDS } from "../../kit/chart";
import { fixed } from "../../kit/quantity";
import { ticks } from "../../kit/ticks";
import { phrase } from "../../terms/phrase";
import { terms } from "../../terms/power";

const MARGIN = { top: 8, right: 8, bottom: 0, left: 0 };
const PLAIN = { dot: false, activeDot: false, isAnimationActive: false } as const;
const WIDE = 54;
/** Tones of what draws, in the order of the list; the swatches of the list take the same. */
export const DRAWS = [
  "color-mix(in srgb, var(--glass) 55%, var(--panel))",
  "color-mix(in srgb, var(--glass) 38%, var(--panel))",
  "color-mix(in srgb, var(--ok) 42%, var(--panel))",
  "color-mix(in srgb, var(--ok) 26%, var(--panel))",
  "color-mix(in srgb, var(--warning) 34%, var(--panel))",
  "color-mix(in srgb, var(--quiet) 30%, var(--panel))",
];
const hourWords = (hour: number) => (hour === 0 ? "dusk" : `${fixed(hour, 0)} h`);

interface ChargeProps {
  view: PowerView;
  chosen: string | null;
  choose: (key: string | null) => void;
}

export function ChargeCurve({ view, chosen, choose }: ChargeProps) {
  const spent = (hour: number, wh: number) => (wh * hour) / view.hours_on;
  const steps = view.hours.map((hour, i) => ({
    hour,
    left: view.left_wh[i] ?? null,
    drawn: view.consumers.map(({ wh }) => spent(hour, wh)),
  }));
  const words = (hour: number) => {
    const left = steps.find((step) => step.hour === hour)?.left;
    const drawn = phrase(terms.hourWhDrawn, { hour: fixed(spent(hour, view.needed_wh), 0) });
    return phrase(terms.hourHAfterDuskDrawnLeft, {
      hour: fixed(hour, 1),
      drawn,
      left: left == null ? "" : phrase(terms.leftWhLeft, { left: fixed(left, 0) }),
    });
  };
  const top = Math.max(view.needed_wh, view.usable_wh ?? 0, 1) * 1.05;
  const end = view.left_wh[view.left_wh.length - 1];
  return (
    <Chart
      name="charge"
      className="night-chart"
      label={
        view.usable_wh == null
          ? phrase(terms.neededWhWhAreDrawnThrough, { needed_wh: fixed(view.needed_wh, 0) })
          : phrase(terms.chargeThroughTheNightUsableWh, {
              usable_wh: fixed(view.usable_wh, 0),
              end: fixed(end ?? 0, 0),
            })
      }
      height={176}
      under={
        <figcaption className="quiet">
          {view.left_wh.length > 0 ? terms.drawnByConsumerAndTheLine : terms.drawnByConsumer}
        </figcaption>
      }
    >
      <ComposedChart data={steps} margin={MARGIN}>
        <XAxis
          {...AXIS}
          dataKey="hour"
          type="number"
          domain={[0, view.hours_on]}
          tickCount={9}
          tickFormatter={hourWords}
          height={20}
        />
        <YAxis
          {...AXIS}
          domain={[0, top]}
          ticks={ticks(0, top, 4)}
          tickFormatter={(wh: number) => `${wh} Wh`}
          width={WIDE}
        />
        {view.consumers.map((one, i) => (
          <Area
            key={one.key}
            name={one.name}
            className={chosen === one.key ? "draw chosen" : "draw"}
            onClick={() => choose(chosen === one.key ? null : one.key)}
            dataKey={(step: (typeof steps)[number]) => step.drawn[i] ?? 0}
            stackId="drawn"
            stroke="var(--ink)"
            fill={DRAWS[i % DRAWS.length]}
            fillOpacity={chosen === null || chosen === one.key ? 1 : 0.35}
            {...PLAIN}
          />
        ))}
        {view.left_wh.length > 0 && (
          <Line dataKey="left" className="left" stroke="var(--brass)" strokeWidth={2.5} {...PLAIN} />
        )}
        {view.lasts_h != null && view.ends_early && (
          <ReferenceLine
            x={view.lasts_h}
            stroke="var(--problem)"
            strokeDasharray="4 3"
            label={{
              value: phrase(terms.emptyAfterLastsHH, { lasts_h: fixed(view.lasts_h, 1) }),
              position: "insideTopRight",
              ...keyed("PowerView.lasts_h"),
              ...WORDS,
            }}
          />
        )}
        {said(words)}
      </ComposedChart>
    </Chart>
  );
}

export function DewCurve({ view }: { view: PowerView }) {
  const steps = view.hours.map((hour, i) => ({ hour, air: view.air_c[i], glass: view.glass_c[i] }));
  const all = [...view.air_c, ...view.glass_c, view.dew_c];
  const low = Math.floor(Math.min(...all) - 3);
  const high = Math.ceil(Math.max(...all) + 1);
  const words = (hour: number) => {
    const step = steps.find((one) => one.hour === hour);
    return phrase(terms.hourHAfterDuskAirAir, {
      hour: fixed(hour, 1),
      air: fixed(step?.air, 1),
      glass: fixed(step?.glass, 1),
      settles: view.settles.text,
      dew_c: fixed(view.dew_c, 1),
    });
  };
  return (
    <Chart
      name="dew"
      className="night-chart"
      label={phrase(terms.coldestGlassMarginKKAbove, {
        margin_k: fixed(view.margin_k, 1),
        settles: view.settles.text,
      })}
      height={104}
      under={<figcaption className="quiet">{terms.theAirAndTheColdestGlass}</figcaption>}
    >
      <LineChart data={steps} margin={MARGIN}>
        <XAxis dataKey="hour" type="number" domain={[0, view.hours_on]} hide />
        <YAxis
          {...AXIS}
          domain={[low, high]}
          ticks={ticks(low, high, 4)}
          tickFormatter={(celsius: number) => `${celsius} °C`}
          width={WIDE}
        />
        <ReferenceArea
          y1={low}
          y2={view.dew_c}
          fill="var(--glass)"
          fillOpacity={0.24}
          label={{
            value: phrase(terms.settlesPointDewCC, {
              settles: view.settles.text,
              dew_c: fixed(view.dew_c, 1),
            }),
            position: "insideTopLeft",
            ...keyed("PowerView.dew_c"),
            ...WORDS,
          }}
        />
        <Line dataKey="air" stroke="var(--quiet)" strokeWidth={1.5} {...PLAIN} />
        <Line dataKey="glass" stroke="var(--brass)" strokeWidth={2.2} {...PLAIN} />
        {said(words)}
      </LineChart>
    </Chart>
  );
}
