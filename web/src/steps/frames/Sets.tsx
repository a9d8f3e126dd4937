/** What frames taken on purpose say together: a night's trend, a focus sweep, a series of spacings and the ring it asks for. */
import { Button } from "antd";
import { Line, LineChart, XAxis, YAxis } from "recharts";
import type { FramesView, PatchOperation, Sentence } from "../../api/types";
import { AXIS, Chart, said } from "../../kit/chart";
import { Mark } from "../../kit/Mark";
import { Plot } from "../../kit/plot";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { ticks } from "../../kit/ticks";
import { terms } from "../../terms/frames";
import { Phrase, phrase } from "../../terms/phrase";

const WIDE = 420;
const HIGH = 170;
const EDGE = { left: 40, right: 12, top: 12, bottom: 26 };

interface Props {
  view: FramesView;
  patch: (change: PatchOperation[], note: string) => void;
}

export function Sets({ view, patch }: Props) {
  const { sweep, series, trend } = view;
  if (!sweep && !series && !trend) return null;
  return (
    <div className="proof-sets">
      {series && (
        <section data-testid="series">
          <h2>
            <Phrase
              of={terms.markSeriesOfSpacings}
              with={{ mark: series.reading && <Mark verdict={series.verdict} size={14} /> }}
            />
          </h2>
          {series.because.text && (
            <p>
              <Phrase of={terms.noBestSpacingYetBecause} with={{ because: <Says text={series.because} /> }} />
            </p>
          )}
          {series.reading && <Foot series={series.reading} now={series.now_mm ?? null} />}
          <Lines lines={series.lines} />
          {series.label.text && (
            <>
              <p className="quiet">
                <Says text={series.label} />.{!series.lays && terms.noRingsOnTheShelfMake}
              </p>
              <Button type="primary" onClick={() => patch([...series.change], terms.spacingAsTheSeriesSays)}>
                {series.lays ? terms.layIt : terms.takeItAsMeasured}
              </Button>
            </>
          )}
        </section>
      )}
      {sweep && (
        <section data-testid="sweep">
          <h2>
            <Phrase
              of={terms.markFocusSweep}
              with={{ mark: sweep.reading && <Mark verdict={sweep.verdict} size={14} /> }}
            />
          </h2>
          {sweep.because.text && (
            <p>
              <Phrase of={terms.noTiltFromItYetBecause} with={{ because: <Says text={sweep.because} /> }} />
            </p>
          )}
          {sweep.reading && <Lean corners={sweep.reading.corners_um} />}
          <Lines lines={sweep.lines} />
        </section>
      )}
      {trend && (
        <section data-testid="trend">
          <h2>{terms.overTheNight}</h2>
          <Trend trend={trend} />
          <Lines
            lines={
              trend.lines.length
                ? trend.lines
                : [{ text: terms.nothingDrifts, code: "", template: "", parts: {} }]
            }
          />
        </section>
      )}
    </div>
  );
}

function Lines({ lines }: { lines: readonly Sentence[] }) {
  return (
    <ul className="plain-list">
      {lines.map((line) => (
        <li key={line.text}>
          <Says text={line} />
        </li>
      ))}
    </ul>
  );
}

/** How much wider corners are than the middle, over the spacing: the measured ones, the parabola, and where it stands now. */
function Foot({
  series,
  now,
}: {
  series: NonNullable<NonNullable<FramesView["series"]>["reading"]>;
  now: number | null;
}) {
  const spacings = series.points.map((one) => one.spacing_mm);
  const all = now === null ? spacings : [...spacings, now];
  const air = 0.12 * (Math.max(...all) - Math.min(...all));
  const [low, high] = [Math.min(...all) - air, Math.max(...all) + air];
  const under = (mm: number) => series.floor_px2 + series.steep * (mm - series.best_mm) ** 2;
  const tops = series.points.map((one) => one.corner_px2 + one.error_px2);
  const [least, most] = [Math.min(0, series.floor_px2), 1.15 * Math.max(...tops)];
  const x = (mm: number) => EDGE.left + ((mm - low) / (high - low)) * (WIDE - EDGE.left - EDGE.right);
  const y = (px2: number) =>
    HIGH - EDGE.bottom - ((px2 - least) / (most - least)) * (HIGH - EDGE.top - EDGE.bottom);
  const curve = Array.from({ length: 49 }, (_, i) => low + ((high - low) * i) / 48).filter(
    (mm) => under(mm) <= most,
  );
  return (
    <Plot
      width={WIDE}
      height={HIGH}
      name="foot"
      label={phrase(terms.cornersOverSpacingsBestAtBest, { best_mm: fixed(series.best_mm, 2) })}
      rest={terms.howMuchWiderTheCornersAre}
    >
      <rect
        className="foot-sure"
        x={x(series.best_mm - series.error_mm)}
        y={EDGE.top}
        width={Math.max(2, x(series.best_mm + series.error_mm) - x(series.best_mm - series.error_mm))}
        height={HIGH - EDGE.top - EDGE.bottom}
      />
      <path className="foot-curve" d={`M${curve.map((mm) => `${x(mm)} ${y(under(mm))}`).join("L")}`} />
      {ticks(low, high, 6).map((mm) => (
        <text key={mm} className="foot-words num" x={x(mm)} y={HIGH - 8} textAnchor="middle">
          {mm}
        </text>
      ))}
      {now !== null && (
        <g className="foot-now">
          <line x1={x(now)} x2={x(now)} y1={EDGE.top} y2={HIGH - EDGE.bottom} />
          <text className="foot-words" x={x(now) + 4} y={EDGE.top + 9}>
            {terms.now}
          </text>
        </g>
      )}
      {series.points.map((one) => (
        <g
          key={`${one.spacing_mm} ${one.corner_px2}`}
          className="foot-point"
          data-says={phrase(terms.atSpacingMmMmCornerPx2, {
            spacing_mm: fixed(one.spacing_mm, 2),
            corner_px2: fixed(one.corner_px2, 2),
            error_px2: fixed(one.error_px2, 2),
          })}
        >
          <line
            x1={x(one.spacing_mm)}
            x2={x(one.spacing_mm)}
            y1={y(one.corner_px2 - one.error_px2)}
            y2={y(one.corner_px2 + one.error_px2)}
          />
          <circle cx={x(one.spacing_mm)} cy={y(one.corner_px2)} r={4} />
        </g>
      ))}
      <text
        data-figure="SpacingSeries.best_mm"
        className="foot-words num"
        x={x(series.best_mm)}
        y={y(series.floor_px2) - 8}
        textAnchor="middle"
      >
        <Phrase of={terms.bestMmMm} with={{ best_mm: fixed(series.best_mm, 2) }} />
      </text>
    </Plot>
  );
}

/** The sensor from behind, its corners as high as their focus lies against the middle, drawn larger than they are. */
function Lean({ corners }: { corners: readonly number[] }) {
  const most = Math.max(20, ...corners.map(Math.abs));
  const places = [
    [-150, -34],
    [110, -34],
    [-110, 44],
    [150, 44],
  ] as const;
  const lifted = places.map(([x, y], i) => [x, y - (34 * (corners[i] ?? 0)) / most] as const);
  const path = (at: readonly (readonly [number, number])[]) =>
    `M${[0, 1, 3, 2].map((i) => `${at[i]?.[0]} ${at[i]?.[1]}`).join("L")}Z`;
  return (
    <svg
      viewBox={`${-WIDE / 2} -82 ${WIDE} ${HIGH - 2}`}
      className="plot"
      role="img"
      aria-label={phrase(terms.focusOfTheCornersAgainstThe, {
        corners: corners.map((one) => `${fixed(one, 0, true)} µm`).join(", "),
      })}
    >
      <path className="lean-square" d={path(places)} />
      {places.map(([x, y], i) => (
        <line key={`${x} ${y}`} className="lean-post" x1={x} y1={y} x2={lifted[i]?.[0]} y2={lifted[i]?.[1]} />
      ))}
      <path className="lean-found" d={path(lifted)} />
      {lifted.map(([x, y], i) => (
        <text
          data-figure="FocusSweep.corners_um"
          key={`${x} ${y}`}
          className="foot-words num"
          x={x + (x > 0 ? 6 : -6)}
          y={y + 4}
          textAnchor={x > 0 ? "start" : "end"}
        >
          {fixed(corners[i], 0, true)} µm
        </text>
      ))}
    </svg>
  );
}

function Trend({ trend }: { trend: NonNullable<FramesView["trend"]> }) {
  const points = trend.points.map((one) => ({ ...one, longer: (one.elongation - 1) * 100 }));
  const end = points[points.length - 1]?.hours ?? 1;
  const widest = 1.15 * Math.max(...points.map((one) => one.fwhm_px));
  return (
    <Chart name="trend-curve" label={terms.starWidthAndElongationOverThe} height={150}>
      <LineChart data={points} margin={{ top: 8, right: 10, bottom: 0, left: 0 }}>
        <XAxis
          {...AXIS}
          dataKey="hours"
          type="number"
          domain={[0, end]}
          ticks={ticks(0, end, 5)}
          tickFormatter={(hour: number) => `${hour} h`}
          height={20}
        />
        <YAxis {...AXIS} domain={[0, widest]} ticks={ticks(0, widest, 4)} width={34} />
        <Line dataKey="fwhm_px" stroke="var(--brass)" strokeWidth={2} isAnimationActive={false} />
        {said((hour) => {
          const one = points.find((point) => point.hours === hour);
          return one
            ? phrase(terms.hoursHNameFwhmPxPx, {
                hours: fixed(one.hours, 1),
                name: one.name,
                fwhm_px: fixed(one.fwhm_px, 2),
                elongation: fixed(one.elongation, 2),
                sky_adu: fixed(one.sky_adu, 0),
                found: one.found,
              })
            : "";
        })}
      </LineChart>
    </Chart>
  );
}
