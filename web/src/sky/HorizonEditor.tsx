/** The horizon of a site, drawn by hand on a panorama: drag, add, delete, mirror, or read it from text. */

import { Button } from "antd";
import { type KeyboardEvent, type MouseEvent, type ReactNode, useEffect, useState } from "react";
import { api, dataAs, words } from "../api/client";
import type { HorizonAnswer, HorizonPoint, NightCurve, Site } from "../api/types";
import { FileButton } from "../kit/FileButton";
import { type At, arrow, Plot, slider, useHand } from "../kit/plot";
import { coordinate } from "../kit/quantity";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/sky";

const WIDTH = 620;
const HEIGHT = 170;
const FOOT = 20;
const TOP_ALTITUDE = 90;
const NAMES: [number, string][] = [
  [0, "N"],
  [45, "NE"],
  [90, "E"],
  [135, "SE"],
  [180, "S"],
  [225, "SW"],
  [270, "W"],
  [315, "NW"],
  [360, "N"],
];

const ordered = (points: readonly HorizonPoint[]) =>
  [...points].sort((one, other) => one.azimuth_deg - other.azimuth_deg);

interface Line {
  points: HorizonPoint[];
}

interface Props {
  site: Site;
  track: NightCurve | null;
  onChange: (points: HorizonPoint[]) => void;
  children?: ReactNode;
}

export function HorizonEditor({ site, track, onChange, children }: Props) {
  const [points, setPoints] = useState<HorizonPoint[]>(ordered(site.horizon ?? []));
  const [told, setTold] = useState<string[]>([]);
  useEffect(() => setPoints(ordered(site.horizon ?? [])), [site.horizon]);
  const x = (azimuth: number) => (azimuth / 360) * WIDTH;
  const y = (altitude: number) => HEIGHT - FOOT - (altitude / TOP_ALTITUDE) * (HEIGHT - FOOT - 6);
  const place = (at: At): HorizonPoint => {
    const altitude = ((HEIGHT - FOOT - at.y) / (HEIGHT - FOOT - 6)) * TOP_ALTITUDE;
    return {
      azimuth_deg: Math.round(Math.min(0.9999, Math.max(0, at.x / WIDTH)) * 360) % 360,
      altitude_deg: Math.round(Math.min(90, Math.max(-5, altitude)) * 2) / 2,
    };
  };
  const free = (azimuth: number, but: number | null) =>
    !points.some((point, i) => i !== but && point.azimuth_deg === azimuth);
  const keep = (next: HorizonPoint[]) => {
    setPoints(ordered(next));
    onChange(ordered(next));
  };
  const hand = useHand<Line>({
    preview: ({ points }) => setPoints(points),
    settle: ({ points }) => keep(points),
    giveUp: () => setPoints(ordered(site.horizon ?? [])),
  });
  /** The line with one point elsewhere; two points never stand over one another. */
  const withPoint = (line: readonly HorizonPoint[], index: number, point: HorizonPoint): Line => ({
    points: line.some((one, i) => i !== index && one.azimuth_deg === point.azimuth_deg)
      ? [...line]
      : line.map((one, i) => (i === index ? point : one)),
  });
  // Round the compass: the line leaves at the right where it comes in at the left.
  const wrapped = (() => {
    const first = points[0];
    const last = points[points.length - 1];
    if (!first || !last) return [];
    return [
      { ...last, azimuth_deg: last.azimuth_deg - 360 },
      ...points,
      { ...first, azimuth_deg: first.azimuth_deg + 360 },
    ];
  })();
  const outline = wrapped.map((point) => `${x(point.azimuth_deg)},${y(point.altitude_deg)}`).join(" ");
  const keys = (index: number) => (event: KeyboardEvent) => {
    const point = points[index];
    const by = arrow(event);
    if (point && by) {
      const way = (step: number) => Math.sign(step) * (event.shiftKey ? 5 : 1);
      const azimuth_deg = (point.azimuth_deg + way(by.x) + 360) % 360;
      const altitude_deg = Math.min(90, Math.max(-5, point.altitude_deg + way(by.y)));
      hand.nudge(withPoint(points, index, { azimuth_deg, altitude_deg }), "horizon");
    } else if (event.key === "Delete" || event.key === "Backspace") {
      hand.flush();
      keep(points.filter((_, i) => i !== index));
    } else return;
    event.preventDefault();
  };

  async function read(file: File) {
    try {
      const text = await file.text();
      const body = text as never;
      const answer = await dataAs<HorizonAnswer>(
        api.POST("/api/v1/sky/horizon", { body, bodySerializer: () => text }),
      );
      const told = answer.faults.map(([line, fault]) =>
        phrase(terms.lineLineFieldReason, { line, field: fault.field, reason: fault.reason }),
      );
      setTold(answer.more ? [...told, phrase(common.andMoreMore, { more: answer.more })] : told);
      if (answer.points.length > 0) keep([...answer.points]);
    } catch (error) {
      setTold([words(error)]);
    }
  }

  return (
    <section className="horizon" aria-label={terms.horizon}>
      <div className="horizon-head">
        <h2>{terms.horizon}</h2>
        {children}
        <span className="button-row">
          <FileButton
            words={terms.readFromAFile}
            label={terms.horizonFile}
            accept=".txt,.csv,text/plain,text/csv"
            onFile={(file) => void read(file)}
          />
          <Button
            disabled={points.length === 0}
            onClick={() =>
              keep(points.map((point) => ({ ...point, azimuth_deg: (360 - point.azimuth_deg) % 360 })))
            }
          >
            {terms.mirror}
          </Button>
          <Button disabled={points.length === 0} onClick={() => keep([])}>
            {common.clear}
          </Button>
        </span>
      </div>
      <Plot
        hand={hand}
        width={WIDTH}
        height={HEIGHT}
        label={terms.panoramaFromNorthThroughEastSouth}
        name="horizon-picture"
        className="horizon-picture"
        rest={terms.clickToAddAPointDrag}
        svg={{
          onClick: (event: MouseEvent) => {
            const on = event.target as Element;
            const at = hand.at(event);
            if (!at || (on !== event.currentTarget && !on.classList.contains("open-sky"))) return;
            const point = place(at);
            if (free(point.azimuth_deg, null)) keep([...points, point]);
          },
        }}
      >
        <rect width={WIDTH} height={HEIGHT - FOOT} className="open-sky" />
        {[15, 30, 45, 60, 75].map((altitude) => (
          <g key={altitude} className="level">
            <line x1={0} x2={WIDTH} y1={y(altitude)} y2={y(altitude)} />
            <text x={3} y={y(altitude) - 2} data-axis>
              {altitude}°
            </text>
          </g>
        ))}
        {track && <Track night={track} x={x} y={y} />}
        {points.length > 0 && (
          <polygon points={`${x(-360)},${y(-5)} ${outline} ${x(720)},${y(-5)}`} className="ground" />
        )}
        {points.map((point, index) => (
          <circle
            // By its place in the line: a point that keys move stays the one in focus.
            key={index}
            cx={x(point.azimuth_deg)}
            cy={y(point.altitude_deg)}
            r={6}
            data-testid="horizon-point"
            className="horizon-point"
            {...slider(
              phrase(terms.horizonAtAzimuthAzimuthDeg, { azimuth_deg: point.azimuth_deg }),
              point.altitude_deg,
              [-5, 90],
              phrase(terms.altitudeHigh, { altitude: point.altitude_deg }),
              {
                onPointerDown: hand.take({
                  note: terms.horizon2,
                  change: (_from, to) => withPoint(points, index, place(to)),
                }),
                onKeyDown: keys(index),
              },
            )}
          />
        ))}
        {NAMES.map(([azimuth, name]) => (
          <text
            key={azimuth}
            x={Math.min(WIDTH - 8, Math.max(8, x(azimuth)))}
            y={HEIGHT - 5}
            textAnchor="middle"
          >
            {name}
          </text>
        ))}
      </Plot>
      {points.length === 0 && <p className="quiet">{terms.anOpenHorizonNothingHidesThe}</p>}
      {told.length > 0 && (
        <ul className="fault">
          {told.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** A target's way over the panorama: thin by day, bold while it is dark and free. */
function Track({
  night,
  x,
  y,
}: {
  night: NightCurve;
  x: (azimuth: number) => number;
  y: (altitude: number) => number;
}) {
  const steps = night.hours.map((hour, i) => ({
    hour,
    azimuth: night.azimuth[i] ?? 0,
    altitude: night.altitude[i] ?? -90,
  }));
  const usable = (hour: number) =>
    night.windows.some(([from, to]) => hour >= from - 0.01 && hour <= to + 0.01);
  const line = (wanted: (hour: number) => boolean) => {
    let broken = true;
    let d = "";
    let last = 0;
    for (const step of steps) {
      const drawn = step.altitude > -1 && wanted(step.hour);
      // Through north the line leaves at one edge and comes in at the other.
      if (drawn)
        d += `${broken || Math.abs(step.azimuth - last) > 180 ? "M" : "L"}${coordinate(x(step.azimuth))} ${coordinate(y(step.altitude))}`;
      broken = !drawn;
      last = step.azimuth;
    }
    return d;
  };
  const marks = night.ticks
    .map(([hour, clock]) => ({ clock, step: steps.find((one) => Math.abs(one.hour - hour) < 0.13) }))
    .filter(({ step }) => step && step.altitude > 2 && usable(step.hour));
  return (
    <g className="track">
      <path d={line(() => true)} className="track-all" />
      <path d={line(usable)} data-testid="track-usable" className="track-usable" />
      {marks.map(
        ({ clock, step }) =>
          step && (
            <text key={clock} x={x(step.azimuth) + 4} y={y(step.altitude) - 4}>
              {clock}
            </text>
          ),
      )}
    </g>
  );
}
