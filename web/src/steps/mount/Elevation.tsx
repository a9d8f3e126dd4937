/** Side elevation, to scale: slide the tube, the riders and the weights by hand or by arrow keys. */
import { type KeyboardEvent, useRef } from "react";
import type { MountView, Rig } from "../../api/types";
import { type At, arrow, Plot, slider, useHand } from "../../kit/plot";
import { fixed } from "../../kit/quantity";
import { ticks } from "../../kit/ticks";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/mount";
import { Phrase, phrase } from "../../terms/phrase";
import { type ChosenLoad, isChosen } from "./chosen";

const WIDTH = 560;
const HEIGHT = 380;
const MARGIN = 18;
const FOOT = 24;
const CENTRE_WORDS = terms.centreOfGravityOfAllThat;

interface Props {
  rig: Rig;
  view: MountView;
  chosen: ChosenLoad | null;
  onChoose: (one: ChosenLoad) => void;
  onPreview: (change: Partial<Rig>) => void;
  onSettle: (change: Partial<Rig>, note: string) => void;
  onGiveUp: () => void;
}

type Moved =
  | { what: "tube"; from: number }
  | { what: "weight"; index: number; from: number }
  | { what: "rider"; index: number; along: number; off: number };

const asChosen = (held: Moved): ChosenLoad =>
  held.what === "tube" ? { what: "tube" } : { what: held.what, index: held.index };
const round = (value: number) => Math.round(value);

export function Elevation({ rig, view, chosen, onChoose, onPreview, onSettle, onGiveUp }: Props) {
  const hand = useHand<Partial<Rig>>({ preview: onPreview, settle: onSettle, giveUp: onGiveUp });
  const shaftEnd = view.shaft ? view.shaft[1] : 60;
  const left = Math.min(-120, ...view.boxes.map((box) => box.x));
  const right = Math.max(120, ...view.boxes.map((box) => box.x + box.width));
  const top = Math.max(80, ...view.boxes.map((box) => box.y + box.height));
  const low = -Math.max(
    shaftEnd + 20,
    ...view.weights.map((weight) => weight.position_mm + weight.thickness_mm / 2 + 10),
  );
  const fit = Math.min((WIDTH - 2 * MARGIN) / (right - left), (HEIGHT - FOOT - 2 * MARGIN) / (top - low));
  // While a hand drags, the scale stands still: a picture that shrinks under the pointer cannot be aimed at.
  const taken = useRef(fit);
  if (!hand.held) taken.current = fit;
  const scale = taken.current;
  const x = (mm: number) => WIDTH * 0.42 + (mm - (left + right) / 2) * scale;
  const y = (mm: number) => MARGIN + (top - mm) * scale;
  const riders = rig.riders ?? [];
  const hung = rig.counterweights ?? [];

  const moved = (held: Moved, along: number, up: number, base: Rig): Partial<Rig> => {
    if (held.what === "tube") {
      const [low = 0, high = 5000] = view.slide ?? [];
      return { saddle_mm: Math.min(high, Math.max(low, round(held.from - along))) };
    }
    if (held.what === "weight") {
      const position_mm = Math.max(0, round(held.from - up));
      return {
        counterweights: (base.counterweights ?? []).map((one, i) =>
          i === held.index ? { ...one, position_mm } : one,
        ),
      };
    }
    const sideways = ["left", "right"].includes(riders[held.index]?.side ?? "top");
    const below = riders[held.index]?.side === "below";
    const off_mm = sideways ? held.off : Math.max(0, round(held.off + (below ? -up : up)));
    return {
      riders: (base.riders ?? []).map((one, i) =>
        i === held.index ? { ...one, along_mm: round(held.along + along), off_mm } : one,
      ),
    };
  };
  const noteOf = (held: Moved) =>
    held.what === "tube"
      ? terms.tubeSlid
      : held.what === "weight"
        ? phrase(terms.partSlid, { part: hung[held.index]?.part.name ?? terms.weight })
        : phrase(common.partMoved, { part: riders[held.index]?.part.name ?? terms.rider });
  /** Where what is held stands in a rig: the picture may still be of the press before. */
  const where = (held: Moved, base: Rig): Moved => {
    if (held.what === "tube") return { ...held, from: base.saddle_mm ?? view.saddle_mm };
    if (held.what === "weight")
      return { ...held, from: base.counterweights?.[held.index]?.position_mm ?? held.from };
    const placed = base.riders?.[held.index];
    return { ...held, along: placed?.along_mm ?? held.along, off: placed?.off_mm ?? held.off };
  };
  const handle = (held: Moved) => ({
    onPointerDown: hand.take({
      note: noteOf(held),
      change: (from: At, to: At) => moved(held, (to.x - from.x) / scale, (from.y - to.y) / scale, rig),
    }),
    onFocus: () => onChoose(asChosen(held)),
    onKeyDown: (event: KeyboardEvent) => {
      const by = arrow(event);
      if (!by) return;
      event.preventDefault();
      const base = { ...rig, ...hand.pending() };
      hand.nudge(moved(where(held, base), by.x, by.y, base), noteOf(held));
    },
  });

  const tube: Moved = { what: "tube", from: view.saddle_mm };
  const cg = view.centre;
  return (
    <Plot
      hand={hand}
      width={WIDTH}
      height={HEIGHT}
      label={terms.sideElevationOfTheLoadTo}
      name="elevation"
      className="elevation"
      rest={terms.dragTheTubeARiderOr}
    >
      <rect width={WIDTH} height={HEIGHT} className="bench-ground" />
      <Rule left={left} right={right} x={x} />
      {view.shaft && (
        <rect
          className="shaft"
          x={x(0) - (view.shaft_diameter_mm * scale) / 2}
          y={y(0)}
          width={Math.max(2, view.shaft_diameter_mm * scale)}
          height={view.shaft[1] * scale}
        />
      )}
      {rig.mount && (
        <g className="head">
          <rect
            x={x(-45)}
            y={y(view.saddle_y - 12)}
            width={90 * scale}
            height={(view.saddle_y + 38) * scale}
            rx={6}
          />
          <circle cx={x(0)} cy={y(0)} r={4} className="axis" />
          <text x={x(45) + 8} y={y(-18)}>
            {common.rightAscension}
          </text>
        </g>
      )}
      {view.weights.map((weight) => {
        const held: Moved = { what: "weight", index: weight.index, from: weight.position_mm };
        return (
          <g key={`${weight.name}-${weight.index}`}>
            <rect
              data-testid="weight"
              className={`weight handle ${view.shaft && !weight.on_shaft ? "off" : ""} ${isChosen(chosen, "weight", weight.index) ? "chosen" : ""}`}
              x={x(-weight.diameter_mm / 2)}
              y={y(-weight.position_mm + weight.thickness_mm / 2)}
              width={weight.diameter_mm * scale}
              height={weight.thickness_mm * scale}
              rx={2}
              {...slider(
                phrase(terms.weightOnTheShaft, { weight: weight.name }),
                round(weight.position_mm),
                [0, 3000],
                phrase(terms.massKgKgPositionMmMm, {
                  mass_kg: fixed(weight.mass_kg, 1),
                  position_mm: fixed(weight.position_mm, 0),
                }),
              )}
              {...handle(held)}
            />
            <text
              data-figure="MountWeight.mass_kg"
              x={x(weight.diameter_mm / 2) + 6}
              y={y(-weight.position_mm) + 4}
              className="num"
            >
              <Phrase
                of={terms.massKgKgAtPositionMm}
                with={{ mass_kg: fixed(weight.mass_kg, 1), position_mm: fixed(weight.position_mm, 0) }}
              />
            </text>
          </g>
        );
      })}
      {rig.mount && (
        <rect
          className="saddle"
          x={x(-view.saddle_length_mm / 2)}
          y={y(view.saddle_y + 8)}
          width={view.saddle_length_mm * scale}
          height={14 * scale}
        />
      )}
      <g
        className={`tube-group handle ${isChosen(chosen, "tube") ? "chosen" : ""}`}
        {...slider(
          terms.tubeInTheSaddle,
          round(view.saddle_mm),
          [round(view.slide?.[0] ?? 0), round(view.slide?.[1] ?? 5000)],
          phrase(terms.saddleSaddleMmMmAheadOf, { saddle_mm: fixed(view.saddle_mm, 0) }),
        )}
        {...handle(tube)}
      >
        {view.boxes
          .filter((box) => box.rider == null)
          .map((box, i) => (
            <rect
              key={`${box.name}-${i}`}
              className={`body ${box.kind}`}
              x={x(box.x)}
              y={y(box.y + box.height)}
              width={Math.max(1, box.width * scale)}
              height={box.height * scale}
              data-says={`${box.name}, ${fixed(box.mass_kg, 2)} kg`}
            />
          ))}
      </g>
      {view.boxes.map((box, i) => {
        if (box.rider == null) return null;
        const placed = riders[box.rider];
        const held: Moved = {
          what: "rider",
          index: box.rider,
          along: placed?.along_mm ?? 0,
          off: placed?.off_mm ?? 0,
        };
        return (
          <rect
            key={`${box.name}-${i}`}
            className={`body rider handle ${placed?.side ?? "top"} ${isChosen(chosen, "rider", box.rider) ? "chosen" : ""}`}
            x={x(box.x)}
            y={y(box.y + box.height)}
            width={box.width * scale}
            height={Math.max(3, box.height * scale)}
            {...slider(
              phrase(terms.boxOnTheTube, { box: box.name }),
              round(held.along),
              [-3000, 3000],
              phrase(terms.massKgKgAlongMmAlong, {
                mass_kg: fixed(box.mass_kg, 2),
                along: held.along,
                off: held.off,
                side: placed?.side ?? "top",
              }),
            )}
            {...handle(held)}
          />
        );
      })}
      <g className="centre-of-gravity" data-says={CENTRE_WORDS}>
        <path d={`M${x(cg[0])} ${y(cg[1])}V${y(view.saddle_y)}`} />
        <circle cx={x(cg[0])} cy={y(cg[1])} r={7} />
        <path d={`M${x(cg[0]) - 7} ${y(cg[1])}h14M${x(cg[0])} ${y(cg[1]) - 7}v14`} className="cross" />
      </g>
      {view.moments[1] && <Turn at={[x(0), y(view.saddle_y)]} moment={view.moments[1]} radius={34} />}
      {view.moments[0] && <Turn at={[x(0), y(0)]} moment={view.moments[0]} radius={22} />}
    </Plot>
  );
}

/** A moment as an arc with a head: as long as it is strong, up to a quarter turn at its limit. */
function Turn({
  at: [cx, cy],
  moment,
  radius,
}: {
  at: [number, number];
  moment: MountView["moments"][number];
  radius: number;
}) {
  const share = Math.min(1.6, Math.abs(moment.value_nm) / Math.max(1e-9, moment.limit_nm));
  const turn = share * 90 * Math.sign(moment.value_nm);
  const end = ((turn - 90) * Math.PI) / 180;
  const tip = [cx + radius * Math.cos(end), cy + radius * Math.sin(end)] as const;
  const along = end + (turn > 0 ? Math.PI / 2 : -Math.PI / 2);
  const head = (lean: number) =>
    `${tip[0] - 8 * Math.cos(along + lean)} ${tip[1] - 8 * Math.sin(along + lean)}`;
  return (
    <g
      className={`turn ${moment.verdict === "ok" ? "" : "over"}`}
      data-says={phrase(terms.momentValueNmNMLimit, {
        moment: moment.name.text,
        value_nm: fixed(moment.value_nm, 2),
        limit_nm: fixed(moment.limit_nm, 2),
      })}
    >
      {Math.abs(turn) > 3 && (
        <path
          d={`M${cx} ${cy - radius}A${radius} ${radius} 0 0 ${turn > 0 ? 1 : 0} ${tip[0]} ${tip[1]}M${head(0.5)}L${tip[0]} ${tip[1]}L${head(-0.5)}`}
        />
      )}
      <text
        data-figure="MountMoment.value_nm"
        x={cx - radius - 8}
        y={cy + 14}
        textAnchor="end"
        className="num"
      >
        {fixed(moment.value_nm, 1)} N·m
      </text>
    </g>
  );
}

function Rule({ left, right, x }: { left: number; right: number; x: (mm: number) => number }) {
  return (
    <g data-testid="mm-rule" className="mm-rule">
      <path d={`M${x(left)} ${HEIGHT - FOOT}H${x(right)}`} />
      {ticks(left, right, 8).map((mm) => (
        <g key={mm}>
          <path d={`M${x(mm)} ${HEIGHT - FOOT}v5`} />
          <text x={x(mm)} y={HEIGHT - 6} textAnchor="middle">
            {mm}
          </text>
        </g>
      ))}
    </g>
  );
}
