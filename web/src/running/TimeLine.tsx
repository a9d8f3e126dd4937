/** The night as a time line: darkness, each target's way up and down, runs that can be slid along it, what happens when. */
import { type KeyboardEvent, type ReactNode, useState } from "react";
import type { TonightPlan } from "../api/types";
import { arrow, Plot, slider, useHand } from "../kit/plot";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/running";
import "./timeLine.module.css";

type Rig = TonightPlan["rigs"][number];
type Run = Rig["runs"][number];

export interface Pinned {
  rig: string;
  target: string;
  slot: number;
}

const WIDTH = 1200;
const LEFT = 132;
const HEAD = 24;
const ROW = 186;
const SKY = 86; // of a row, for altitudes
const LEFT_OVER = 40; // below a row, for what runs down
const STEP = 3; // slots that a key moves: a quarter of an hour

/** Where things lie in the drawing, for what is drawn over it. */
export interface Laid {
  x: (slot: number) => number;
  /** Top of a rig's row, of its runs. */
  top: (k: number) => number;
  runs: number;
  height: number;
  head: number;
  right: number;
}

interface Props {
  plan: TonightPlan;
  /** Where a run was put by hand; without it runs stand still. */
  pin?: (pinned: Pinned, note: string) => void;
  /** How far above the rows something else is drawn. */
  above?: number;
  /** Of the drawing, in its own units: less where it stands in a narrow place, so that words stay legible. */
  width?: number;
  over?: (laid: Laid) => ReactNode;
}

export function TimeLine({ plan, pin, above = 0, width = WIDTH, over }: Props) {
  const right = width - 8;
  const [held, setHeld] = useState<Pinned | null>(null);
  const hand = useHand<Pinned>({
    preview: setHeld,
    settle: (pinned, note) => {
      setHeld(null);
      pin?.(pinned, note);
    },
    giveUp: () => setHeld(null),
  });
  const up = plan.sun.map((altitude) => altitude > 4);
  const first = Math.max(0, up.indexOf(false) - 6);
  const last = Math.min(plan.slots - 1, up.lastIndexOf(false) + 6);
  const x = (slot: number) => LEFT + ((slot - first) / (last - first)) * (right - LEFT);
  const perUnit = (last - first) / (right - LEFT);
  const head = HEAD + above;
  const heights = plan.rigs.map((rig) => ROW + (rig.reserves.length > 0 ? LEFT_OVER : 0));
  const top = (k: number) => head + heights.slice(0, k).reduce((sum, one) => sum + one, 0);
  const height = top(plan.rigs.length) + 4;
  const hours = plan.clock.flatMap((time, slot) =>
    slot >= first && slot <= last && time.endsWith(":00") && Number(time.slice(0, 2)) % 2 === 0
      ? [{ slot, time }]
      : [],
  );
  return (
    <div className="time-line-scroll">
      <Plot
        hand={hand}
        width={width}
        height={height}
        name="time-line"
        className="time-line"
        label={phrase(terms.theNightOfDayAtSite, { day: plan.day, site: plan.site, plan: plan.words.text })}
        rest={pin ? terms.slideARunAlongTheNight : terms.theNightAsItRuns}
      >
        <rect
          className="twilight"
          x={x(first)}
          width={x(last) - x(first)}
          y={HEAD}
          height={height - HEAD - 4}
        />
        {plan.dark.map(([from, to]) => (
          <rect
            key={from}
            className="darkness"
            x={x(from)}
            width={x(to) - x(from)}
            y={HEAD}
            height={height - HEAD - 4}
          />
        ))}
        {plan.free && (
          <g
            className="free-hours"
            data-says={phrase(terms.freeFromClockToClock2, {
              clock: plan.clock[plan.free[0]],
              clock2: plan.clock[plan.free[1]],
            })}
          >
            <line
              x1={x(Math.max(plan.free[0], first))}
              x2={x(Math.max(plan.free[0], first))}
              y1={HEAD}
              y2={height - 4}
            />
            <line
              x1={x(Math.min(plan.free[1], last))}
              x2={x(Math.min(plan.free[1], last))}
              y1={HEAD}
              y2={height - 4}
            />
          </g>
        )}
        {hours.map(({ slot, time }) => (
          <g key={slot} className="hour-mark">
            <line x1={x(slot)} x2={x(slot)} y1={HEAD - 4} y2={height - 4} />
            <text x={x(slot)} y={HEAD - 8} textAnchor="middle">
              {time}
            </text>
          </g>
        ))}
        {plan.rigs.map((rig, k) => (
          <RigRow key={rig.rig_id} rig={rig} top={top(k)} x={x} first={first} last={last} moon={plan.moon}>
            {rig.runs.map((run) => {
              const mine =
                held && held.rig === rig.rig_id && held.target === run.target ? held.slot : run.start;
              const wide = x(run.end) - x(run.start);
              const words = phrase(terms.runFromWordsToToWords, {
                run: run.name,
                from_words: run.from_words,
                to_words: run.to_words,
                run2: run.words.text,
              });
              const grip = (slot: number): Pinned => ({
                rig: rig.rig_id,
                target: run.target,
                slot: Math.max(0, Math.min(plan.slots - 1, Math.round(slot))),
              });
              const box = (
                <>
                  <rect width={Math.max(wide, 4)} height={36} rx={4} />
                  <RunWords run={run} wide={wide} />
                </>
              );
              const place = `translate(${x(mine)} ${SKY + 8})`;
              if (!pin)
                return (
                  <g key={`${run.target} ${run.start}`} className="run" transform={place} data-says={words}>
                    {box}
                  </g>
                );
              return (
                <g
                  key={run.target}
                  className={`run ${run.pinned ? "pinned" : ""}`}
                  transform={place}
                  {...slider(
                    `${rig.name}, ${run.name}`,
                    mine,
                    [first, last],
                    `${words}${run.pinned ? terms.keptWhereItWasPut : ""}`,
                    {
                      onPointerDown: hand.take({
                        note: phrase(terms.runPutAtItsTime, { run: run.name }),
                        change: (from, to) => grip(run.start + (to.x - from.x) * perUnit),
                      }),
                      onKeyDown: (event: KeyboardEvent) => {
                        const by = arrow(event);
                        if (!by?.x) return;
                        event.preventDefault();
                        const now =
                          hand.pending()?.target === run.target ? (hand.pending()?.slot ?? mine) : mine;
                        hand.nudge(
                          grip(now + Math.sign(by.x) * STEP),
                          phrase(terms.runPutAtItsTime, { run: run.name }),
                        );
                      },
                    },
                  )}
                >
                  {box}
                </g>
              );
            })}
          </RigRow>
        ))}
        {over?.({ x, top, runs: SKY + 8, height, head: HEAD, right })}
      </Plot>
    </div>
  );
}

function RunWords({ run, wide }: { run: Run; wide: number }) {
  const most = Math.floor((wide - 12) / 6.4);
  const short = (words: string) =>
    words.length > most ? `${words.slice(0, Math.max(most - 1, 0))}…` : words;
  if (most < 4) return null;
  return (
    <>
      <text x={7} y={15} className="run-name">
        {short(run.name)}
      </text>
      <text x={7} y={29} className="num" data-figure="TonightRun.words">
        {short(run.words.text)}
      </text>
    </>
  );
}

interface RowProps {
  rig: Rig;
  top: number;
  x: (slot: number) => number;
  first: number;
  last: number;
  moon: TonightPlan["moon"];
  children: ReactNode;
}

function RigRow({ rig, top, x, first, last, moon, children }: RowProps) {
  const y = (altitude: number) => SKY - (Math.max(altitude, 0) / 90) * (SKY - 8);
  const line = (values: readonly number[], keep: (slot: number) => boolean) => {
    let path = "";
    let pen = false;
    for (let slot = first; slot <= last; slot += 2) {
      const value = values[slot] ?? 0;
      if (value <= 0 || !keep(slot)) {
        pen = false;
        continue;
      }
      path += `${pen ? "L" : "M"}${Math.round(x(slot))} ${Math.round(y(value) * 10) / 10}`;
      pen = true;
    }
    return path;
  };
  const rows = rowsOf(
    rig.events.map((event) => ({ at: x(event.slot), wide: short(event.what.text, rig).length * 6.2 + 8 })),
  );
  return (
    <g transform={`translate(0 ${top})`} data-rig={rig.rig_id}>
      <text x={4} y={22} className="rig-title">
        {rig.name}
      </text>
      {rig.because.text && (
        <text x={LEFT + 8} y={SKY + 30} className="because">
          {rig.because.text}
        </text>
      )}
      {rig.curves
        .filter((curve) => rig.runs.some((run) => run.target === curve.target))
        .map((curve) => (
          <path
            key={curve.target}
            className="horizon-under"
            data-says={phrase(terms.theHorizonUnderCurve, { curve: curve.name })}
            d={`M${x(first)} ${SKY}${curve.horizon
              .slice(first, last + 1)
              .flatMap((value, i) =>
                i % 2 ? [] : [`L${Math.round(x(first + i))} ${Math.round(y(value) * 10) / 10}`],
              )
              .join("")}L${x(last)} ${SKY}Z`}
          />
        ))}
      <path className="moon-way" d={line(moon, () => true)} data-says={terms.theMoon} />
      {rig.curves.map((curve, k) => (
        <g
          key={curve.target}
          className="way"
          data-says={phrase(terms.curveBrightWhereItMayBe, { curve: curve.name })}
        >
          <path d={line(curve.altitude, () => true)} />
          <text
            x={x(Math.min(nameAt(curve.usable, k), last))}
            y={y(curve.altitude[nameAt(curve.usable, k)] ?? 0) - 5}
          >
            {usableAt(curve.usable, nameAt(curve.usable, k)) ? curve.name : ""}
          </text>
          <path className="usable" d={line(curve.altitude, (slot) => curve.usable[slot] ?? false)} />
        </g>
      ))}
      {rig.events.map((event, i) => (
        <g
          key={`${event.slot} ${event.what.text}`}
          className={`event ${event.hands ? "hands" : ""}`}
          data-says={`${event.time} ${event.what.text}`}
        >
          <line x1={x(event.slot)} x2={x(event.slot)} y1={SKY + 4} y2={SKY + 62 + (rows[i] ?? 0) * 14} />
          <text data-figure="TonightEvent.what" x={x(event.slot) + 3} y={SKY + 62 + (rows[i] ?? 0) * 14}>
            {short(event.what.text, rig)}
          </text>
        </g>
      ))}
      {children}
      {rig.reserves.map((one, i) => (
        <Reserve key={one.name} one={one} x={x} top={ROW + i * 18} right={x(last)} />
      ))}
    </g>
  );
}

/** Something that runs down over the night, with what is left of it at the end. */
interface ReserveProps {
  one: Rig["reserves"][number];
  x: (slot: number) => number;
  top: number;
  right: number;
}

function Reserve({ one, x, top, right }: ReserveProps) {
  const y = (share: number) => top + 14 - 12 * share;
  const at = one.seconds.map((second, i) => [x(second / 300), y(one.shares[i] ?? 0)] as const);
  const [start, end] = [at[0], at[at.length - 1]];
  if (!start || !end) return null;
  const cramped = end[0] + 6 + one.words.text.length * 6.4 > right;
  const line = at.map(([a, b]) => `${Math.round(a)} ${Math.round(b * 10) / 10}`).join("L");
  return (
    <g className="reserve" data-says={`${one.name}: ${one.words.text}`}>
      <text x={4} y={top + 12}>
        {one.name}
      </text>
      <path className="reserve-left" d={`M${line}L${end[0]} ${y(0)}L${start[0]} ${y(0)}Z`} />
      <path d={`M${line}`} />
      {one.least > 0 && <line x1={start[0]} x2={end[0]} y1={y(one.least)} y2={y(one.least)} />}
      <text
        x={end[0] + (cramped ? -6 : 6)}
        y={top + (cramped ? 4 : 12)}
        textAnchor={cramped ? "end" : "start"}
        data-figure="TonightReserve.words"
      >
        {one.words.text}
      </text>
    </g>
  );
}

const short = (what: string, rig: Rig) => what.replace(`${rig.name}: `, "").split(",")[0] ?? what;

const usableAt = (usable: readonly boolean[], slot: number) => usable[slot] ?? false;

/** Where a target's name stands on its way: as it begins to be of use, one further along than another. */
const nameAt = (usable: readonly boolean[], k: number) =>
  usable.includes(true) ? usable.indexOf(true) + 2 + k * 16 : 0;

/** On which row the words of each event stand, so that none covers another. */
function rowsOf(words: { at: number; wide: number }[]): number[] {
  const ends: number[] = [];
  return words.map(({ at, wide }) => {
    let row = 0;
    while ((ends[row] ?? Number.NEGATIVE_INFINITY) > at) row += 1;
    ends[row] = at + wide;
    return row;
  });
}
