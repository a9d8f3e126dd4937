/** The Power step: the night as a charge curve, what draws, cables, outlets, and the dew margin beneath. */

import { Button } from "antd";
import { useState } from "react";
import { api, dataAs } from "../../api/client";
import type { Figure, Part, PowerView } from "../../api/types";
import { figureOf, Worked } from "../../kit/FigureValue";
import { NumberField } from "../../kit/NumberField";
import { fixed } from "../../kit/quantity";
import { ticks } from "../../kit/ticks";
import { withGear } from "../../rig/gear";
import { PartPicker } from "../../rig/PartPicker";
import { kindName } from "../../rig/path";
import { useDrawn } from "../../rig/useDrawn";
import type { StepProps } from "../step";
import { Cables } from "./Cables";
import "./power.module.css";

export default function Power({ rig, commit, evaluation }: StepProps) {
  const [picking, setPicking] = useState<Part["kind"][] | null>(null);
  const { view, fault } = useDrawn(rig, (given) =>
    dataAs<PowerView>(api.POST("/api/v1/power", { body: { rig: given } })),
  );
  const supply = rig.supply ?? {};
  const set = (change: Partial<typeof supply>, note: string) =>
    commit((now) => ({ ...now, supply: { ...(now.supply ?? {}), ...change } }), note);
  return (
    <div className="power">
      <div className="gear-line">
        <Button
          size="small"
          type={supply.source ? "default" : "primary"}
          onClick={() => setPicking(["power_source"])}
        >
          {supply.source ? supply.source.name : "Choose a supply"}
        </Button>
        <NumberField
          of="Supply.hours"
          value={supply.hours ?? null}
          onChange={(hours) => set({ hours }, "hours set")}
        />
        <Button size="small" onClick={() => setPicking(["cable"])}>
          Add a cable
        </Button>
        <Button size="small" onClick={() => setPicking(["dew_heater", "rider"])}>
          Add a heater or hub
        </Button>
      </div>
      {fault && <p className="fault">{fault}</p>}
      {view && (
        <>
          <ul data-testid="big-line" className="big-line">
            <Big
              figure={figureOf(evaluation, "power.energy_needed_wh")}
              value={`${fixed(view.needed_wh, 0)} Wh`}
              words={`needed in ${fixed(view.hours_on, 1)} h, ${view.hours_words}`}
            />
            <Big
              figure={figureOf(evaluation, "power.energy_had_wh")}
              value={view.usable_wh == null ? "—" : `${fixed(view.usable_wh, 0)} Wh`}
              words={view.usable_wh == null ? "no battery to count" : "at hand, cold and reserve off"}
            />
            <Big
              figure={figureOf(evaluation, "power.hours_left_h")}
              value={view.lasts_h == null ? "—" : `${fixed(view.lasts_h, 1)} h`}
              words="it lasts"
              bad={view.ends_early}
            />
            <Big
              figure={figureOf(evaluation, "power.peak_a")}
              value={view.peak_a == null ? "—" : `${fixed(view.peak_a, 1)} A`}
              words="at the worst"
            />
            <Big
              figure={figureOf(evaluation, "power.dew_margin_k")}
              value={`${view.margin_k > 0 ? "+" : "−"}${fixed(Math.abs(view.margin_k), 1)} K`}
              words={`above the ${view.settles} point${view.heated ? ", heated" : ""}`}
              bad={view.dews_over}
            />
          </ul>
          <ChargeCurve view={view} />
          <DewCurve view={view} />
          <div className="power-foot">
            <table data-testid="plain-table" className="plain-table">
              <thead>
                <tr>
                  <th scope="col">draws</th>
                  <th scope="col">mean</th>
                  <th scope="col">worst</th>
                  <th scope="col">over the night</th>
                </tr>
              </thead>
              <tbody>
                {view.consumers.map((one, i) => (
                  <tr key={one.name}>
                    <th scope="row">
                      <svg className="swatch" viewBox="0 0 10 10" aria-hidden="true">
                        <rect width="10" height="10" className={`draw-${i % 6}`} />
                      </svg>{" "}
                      {one.name} <span className="quiet">{one.note}</span>
                    </th>
                    <td className="num">{fixed(one.mean_w, 1)} W</td>
                    <td className="num">{fixed(one.peak_w, 0)} W</td>
                    <td className="num">{fixed(one.wh, 0)} Wh</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <div>
              <ul className="plain-list">
                {view.outlets
                  .filter((one) => one.wanted > 0)
                  .map((one) => (
                    <li key={one.name} className={one.short ? "short" : ""}>
                      <span className="num">
                        {one.wanted} of {one.had}
                      </span>{" "}
                      {one.name}
                    </li>
                  ))}
                {view.plugs.map((one) => (
                  <li key={one.name}>
                    plugs {one.name}:{" "}
                    <span className="num">
                      {one.wanted} to feed, {one.had}{" "}
                      {one.had === 1 ? "cable of the rig ends" : "cables of the rig end"} in it
                    </span>
                  </li>
                ))}
              </ul>
              <Cables view={view} supply={supply} set={set} />
              {view.notes.map((note) => (
                <p key={note}>{note}</p>
              ))}
              <p className="quiet">
                Mains outdoors only through a residual-current device, with weatherproof connections, per
                local electrical code; fixed wiring is for a licensed electrician. Lithium batteries as their
                maker says: charging temperature, fusing, no home-made pack without protection.
              </p>
            </div>
          </div>
        </>
      )}
      {picking && (
        <PartPicker
          title={picking.length === 1 && picking[0] ? `Choose a ${kindName(picking[0])}` : "Add to the rig"}
          kinds={picking}
          close={() => setPicking(null)}
          onPick={(part) => {
            const change = withGear(rig, part);
            if (change) commit((now) => ({ ...now, ...change }), `${part.name} added`);
            setPicking(null);
          }}
        />
      )}
    </div>
  );
}

interface BigProps {
  figure: Figure | undefined;
  value: string;
  words: string;
  bad?: boolean;
}

function Big({ figure, value, words, bad }: BigProps) {
  return (
    <li className={bad ? "bad" : ""}>
      <strong className="num">
        <Worked figure={figure}>{value}</Worked>
      </strong>
      <span className="quiet">{words}</span>
    </li>
  );
}

const WIDTH = 640;
const LEFT = 40;

function ChargeCurve({ view }: { view: PowerView }) {
  const HEIGHT = 170;
  const FOOT = 20;
  const top = Math.max(view.needed_wh, view.usable_wh ?? 0, 1) * 1.05;
  const x = (hour: number) => LEFT + (hour / view.hours_on) * (WIDTH - LEFT - 6);
  const y = (wh: number) => HEIGHT - FOOT - (wh / top) * (HEIGHT - FOOT - 8);
  let below = 0;
  return (
    <svg
      data-testid="charge"
      className="charge"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={
        view.usable_wh == null
          ? `${fixed(view.needed_wh, 0)} Wh are drawn through the night`
          : `Charge through the night: ${fixed(view.usable_wh, 0)} Wh at dusk, ${fixed(view.left_wh[view.left_wh.length - 1] ?? 0, 0)} at the end`
      }
    >
      {view.consumers.map((one, i) => {
        const from = below;
        below += one.wh;
        return (
          <path
            key={one.name}
            d={`M${x(0)} ${y(0)}L${x(view.hours_on)} ${y(from)}V${y(below)}Z`}
            className={`draw draw-${i % 6}`}
          >
            <title>{`${one.name}: ${fixed(one.wh, 0)} Wh`}</title>
          </path>
        );
      })}
      {view.left_wh.length > 0 && (
        <path
          data-testid="left"
          className="left"
          d={view.left_wh.map((wh, i) => `${i ? "L" : "M"}${x(view.hours[i] ?? 0)} ${y(wh)}`).join("")}
        />
      )}
      {view.lasts_h != null && view.ends_early && (
        <g className="empty-at">
          <path d={`M${x(view.lasts_h)} 6V${y(0)}`} />
          <text x={x(view.lasts_h) - 5} y={16} textAnchor="end">
            empty after {fixed(view.lasts_h, 1)} h
          </text>
        </g>
      )}
      {ticks(0, top, 4).map((wh) => (
        <text key={wh} x={LEFT - 6} y={y(wh) + 4} textAnchor="end">
          {wh}
        </text>
      ))}
      {ticks(0, view.hours_on, 8).map((hour) => (
        <text key={hour} x={x(hour)} y={HEIGHT - 4} textAnchor="middle">
          {hour === 0 ? "dusk" : `${hour} h`}
        </text>
      ))}
      <text x={LEFT + 6} y={14}>
        Wh left · drawn, by consumer
      </text>
    </svg>
  );
}

function DewCurve({ view }: { view: PowerView }) {
  const HEIGHT = 96;
  const all = [...view.air_c, ...view.glass_c, view.dew_c];
  const low = Math.min(...all) - 3;
  const high = Math.max(...all) + 1;
  const x = (hour: number) => LEFT + (hour / view.hours_on) * (WIDTH - LEFT - 6);
  const y = (value: number) => HEIGHT - 6 - ((value - low) / (high - low)) * (HEIGHT - 12);
  const line = (values: readonly number[]) =>
    values.map((value, i) => `${i ? "L" : "M"}${x(view.hours[i] ?? 0)} ${y(value)}`).join("");
  return (
    <svg
      className="dew"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`Coldest glass ${fixed(view.margin_k, 1)} K above the ${view.settles} point`}
    >
      <rect
        x={LEFT}
        y={y(view.dew_c)}
        width={WIDTH - LEFT - 6}
        height={Math.max(0, HEIGHT - y(view.dew_c))}
        className="wet"
      />
      <path d={line(view.air_c)} className="air" />
      <path d={line(view.glass_c)} className="glass-line" />
      <text x={LEFT + 6} y={y(view.dew_c) + 13}>
        {view.settles} point {fixed(view.dew_c, 1)} °C
      </text>
      <text x={WIDTH - 10} y={14} textAnchor="end">
        air, and the glass below it
      </text>
      {ticks(low, high, 4).map((value) => (
        <text key={value} x={LEFT - 6} y={y(value) + 4} textAnchor="end">
          {value}°
        </text>
      ))}
    </svg>
  );
}
