/** The plane of trade-offs: money across, fit up, carried mass as size, speed as tone; its axes are brushed, its front walked. */
import { Slider } from "antd";
import { type KeyboardEvent, useId } from "react";
import type { DesignPoint } from "../api/types";
import { fixed, joined, plain } from "../kit/quantity";
import { terms } from "../terms/begin";
import { Phrase, phrase } from "../terms/phrase";
import { moneyOf } from "./request";

const W = 560;
const H = 410;
const LEFT = 44;
const RIGHT = 24;
const TOP = 42;
const BOTTOM = 34;
const SMALLEST = 4;
const LARGEST = 14;

export type Span = readonly [number, number];
export interface Brushed {
  money: Span | null;
  fit: Span | null;
  mass: Span | null;
  speed: Span | null;
  ease: Span | null;
}
export const UNBRUSHED: Brushed = { money: null, fit: null, mass: null, speed: null, ease: null };

/** What a point has on each axis; speed against the fastest. */
export const standsAt = (point: DesignPoint, axis: keyof Brushed, fastest: number) => {
  const { scores } = point;
  if (axis === "money") return scores.money;
  if (axis === "mass") return scores.mass_kg;
  if (axis === "fit") return scores.fit * 100;
  if (axis === "ease") return scores.ease;
  return fastest > 0 ? (scores.speed / fastest) * 100 : 0;
};

const within = (value: number, span: Span | null) => span === null || (value >= span[0] && value <= span[1]);
export const isShown = (point: DesignPoint, brushed: Brushed, fastest: number) =>
  (Object.keys(brushed) as (keyof Brushed)[]).every((axis) =>
    within(standsAt(point, axis, fastest), brushed[axis]),
  );

interface Props {
  points: readonly DesignPoint[];
  sure: boolean;
  chosen: number | null;
  hovered: number | null;
  brushed: Brushed;
  choose: (row: number) => void;
  hover: (row: number | null) => void;
  brush: (next: Brushed) => void;
  currency: string;
}

export function Plane({ points, sure, chosen, hovered, brushed, choose, hover, brush, currency }: Props) {
  const name = useId();
  const fastest = Math.max(0, ...points.map((point) => point.scores.speed));
  const most = Math.max(100, ...points.map((point) => point.scores.money)) * 1.04;
  const heaviest = Math.max(1, ...points.map((point) => point.scores.mass_kg));
  const x = (money: number) => LEFT + (money / most) * (W - LEFT - RIGHT);
  const y = (fit: number) => H - BOTTOM - fit * (H - TOP - BOTTOM);
  const step = [50, 100, 200, 250, 500, 1000, 2000, 5000, 10000].find((one) => most / one <= 6) ?? 20000;
  const marks = Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step);
  // The front is walked from the cheapest on.
  const walk = [...points]
    .filter((point) => isShown(point, brushed, fastest))
    .sort((a, b) => a.scores.money - b.scores.money || a.scores.fit - b.scores.fit);
  const here = walk.findIndex((point) => point.row === chosen);
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    const to =
      event.key === "Home" ? 0 : event.key === "End" ? walk.length - 1 : by === undefined ? null : here + by;
    if (to === null) return;
    const next = walk[Math.min(Math.max(to, 0), walk.length - 1)];
    if (next) choose(next.row);
    event.preventDefault();
  };
  const order = [...points].sort((a, b) => b.scores.mass_kg - a.scores.mass_kg);
  // Nothing for the same money frames as much: these are filled, the others drawn around.
  const leading = new Set(
    points
      .filter(
        ({ scores }) =>
          !points.some(
            ({ scores: other }) =>
              other.money <= scores.money &&
              other.fit >= scores.fit &&
              (other.money < scores.money || other.fit > scores.fit),
          ),
      )
      .map((point) => point.row),
  );
  const told = points.find((point) => point.row === (hovered ?? chosen));
  return (
    <figure className="plane">
      <div
        role="listbox"
        aria-label={terms.rigsByNewMoneyAndFit}
        aria-activedescendant={chosen === null ? undefined : `${name}-${chosen}`}
        tabIndex={0}
        onKeyDown={keys}
        className="plane-box"
      >
        <svg viewBox={`0 0 ${W} ${H}`} className="plane-svg" data-testid="plane">
          <title>{terms.eachCircleIsAWholeRig}</title>
          {[0, 0.25, 0.5, 0.75, 1].map((fit) => (
            <g key={fit}>
              <line x1={LEFT} x2={W - RIGHT} y1={y(fit)} y2={y(fit)} className="plane-line" />
              <text x={LEFT - 6} y={y(fit) + 4} textAnchor="end" className="plane-mark" data-axis>
                {plain(fit * 100, 0)}%
              </text>
            </g>
          ))}
          {marks.map((money) => (
            <g key={money}>
              <line x1={x(money)} x2={x(money)} y1={TOP} y2={H - BOTTOM} className="plane-line" />
              <text x={x(money)} y={H - BOTTOM + 15} textAnchor="middle" className="plane-mark" data-axis>
                {fixed(money, 0)}
              </text>
            </g>
          ))}
          <text x={LEFT} y={12} className="plane-mark">
            {terms.targetMonthsFramedSampledAndHeld}
          </text>
          <text x={LEFT} y={26} className="plane-mark">
            {terms.sizeCarriedMassToneSpeedFilled}
          </text>
          <text x={W - RIGHT} y={H - 4} textAnchor="end" className="plane-mark">
            <Phrase of={terms.newMoneyCurrency} with={{ currency }} />
          </text>
          {order.map((point) => {
            const { scores, row } = point;
            const shown = isShown(point, brushed, fastest);
            const share = fastest > 0 ? scores.speed / fastest : 1;
            const radius = SMALLEST + (LARGEST - SMALLEST) * Math.sqrt(scores.mass_kg / heaviest);
            return (
              <circle
                key={row}
                id={`${name}-${row}`}
                role="option"
                aria-selected={row === chosen}
                aria-label={phrase(terms.pointMoneyFitFitMassKg, {
                  point: point.name,
                  money: moneyOf(scores.money, currency),
                  fit: plain(scores.fit * 100, 0),
                  mass_kg: fixed(scores.mass_kg, 1),
                })}
                cx={x(scores.money)}
                cy={y(scores.fit)}
                r={radius}
                style={{
                  fillOpacity: shown && leading.has(row) ? 0.25 + 0.7 * Math.sqrt(share) : 0.04,
                  strokeOpacity: leading.has(row) || row === chosen ? 1 : 0.25 + 0.75 * Math.sqrt(share),
                }}
                className={`plane-point ${row === chosen ? "picked" : ""} ${sure ? "" : "so-far"} ${leading.has(row) ? "leads" : ""} ${shown ? "" : "brushed"}`}
                onClick={() => choose(row)}
                onPointerEnter={() => hover(row)}
                onPointerLeave={() => hover(null)}
              />
            );
          })}
          {told && (
            <text
              data-figure="Scores.money"
              x={Math.min(x(told.scores.money) + 14, W - 190)}
              y={Math.max(y(told.scores.fit) - 12, TOP + 10)}
              className="plane-told"
            >
              {moneyOf(told.scores.money, currency)} · {plain(told.scores.fit * 100, 0)}%
            </text>
          )}
        </svg>
      </div>
      <Brushes points={points} fastest={fastest} brushed={brushed} brush={brush} currency={currency} />
    </figure>
  );
}

const AXES: readonly (readonly [keyof Brushed, string])[] = [
  ["money", terms.newMoney],
  ["fit", terms.fit],
  ["mass", terms.massAxis],
  ["speed", terms.speed],
  ["ease", terms.ease],
];

/** Each axis with two ends to draw in; what lies outside fades, and leaves the list. */
function Brushes({
  points,
  fastest,
  brushed,
  brush,
  currency,
}: Pick<Props, "points" | "brushed" | "brush" | "currency"> & { fastest: number }) {
  const unit = (axis: keyof Brushed) =>
    ({ money: currency, mass: "kg", fit: "%", speed: "%", ease: "of 10" })[axis];
  if (points.length < 2) return null;
  return (
    <div className="brushes" role="group" aria-label={terms.showOnly}>
      {AXES.map(([axis, title]) => {
        const values = points.map((point) => standsAt(point, axis, fastest));
        const low = Math.floor(Math.min(...values));
        const high = Math.ceil(Math.max(...values));
        const span = brushed[axis] ?? [low, high];
        return (
          <div key={axis} className="brush">
            <span>{title}</span>
            <Slider
              range
              min={low}
              max={high === low ? low + 1 : high}
              value={[span[0], span[1]]}
              tooltip={{ formatter: null }}
              ariaLabelForHandle={[
                phrase(terms.titleAtLeast, { title }),
                phrase(terms.titleAtMost, { title }),
              ]}
              onChange={([from = low, to = high]) =>
                brush({ ...brushed, [axis]: from <= low && to >= high ? null : [from, to] })
              }
            />
            <span className="quiet num" data-given>
              <Phrase
                of={terms.spanToSpan2Axis}
                with={{
                  span: fixed(span[0], 0),
                  span2: joined(fixed(span[1], 0), unit(axis)),
                }}
              />
            </span>
          </div>
        );
      })}
    </div>
  );
}
