/** The Power step: the night as a charge curve, what draws, cables, outlets, and the dew margin beneath. */

import { Button } from "antd";
import { type ReactNode, useState } from "react";
import { api, dataAs } from "../../api/client";
import type { Figure, Part, PowerView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { figureOf, Worked } from "../../kit/FigureValue";
import { NumberField } from "../../kit/NumberField";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { withGear } from "../../rig/gear";
import { PartPicker } from "../../rig/PartPicker";
import { kindName } from "../../rig/path";
import { useDrawn } from "../../rig/useDrawn";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/power";
import type { StepProps } from "../step";
import { Cables } from "./Cables";
import { ChosenDraw } from "./ChosenDraw";
import { ChargeCurve, DewCurve, DRAWS } from "./Curves";
import "./power.module.css";

export default function Power({ rig, commit, evaluation }: StepProps) {
  const [picking, setPicking] = useState<Part["kind"][] | null>(null);
  const [chosen, setChosen] = useState<string | null>(null);
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
          {supply.source ? supply.source.name : terms.chooseASupply}
        </Button>
        <NumberField
          of="Supply.hours"
          value={supply.hours ?? null}
          onChange={(hours) => set({ hours }, terms.hoursSet)}
        />
        <Button size="small" onClick={() => setPicking(["cable"])}>
          {terms.addACable}
        </Button>
        <Button size="small" onClick={() => setPicking(["dew_heater", "rider"])}>
          {terms.addAHeaterOrHub}
        </Button>
      </div>
      {fault && <p className="fault">{fault}</p>}
      {view && (
        <>
          <ul data-testid="big-line" className="big-line">
            <Big
              figure={figureOf(evaluation, "power.energy_needed_wh")}
              value={`${fixed(view.needed_wh, 0)} Wh`}
              words={
                <Phrase
                  of={terms.neededInHoursOnHHours}
                  with={{
                    hours_on: <Num of="PowerView.hours_on">{fixed(view.hours_on, 1)}</Num>,
                    hours_words: <Says text={view.hours_words} />,
                  }}
                />
              }
            />
            <Big
              figure={figureOf(evaluation, "power.energy_had_wh")}
              value={view.usable_wh == null ? "—" : `${fixed(view.usable_wh, 0)} Wh`}
              words={view.usable_wh == null ? terms.noBatteryToCount : terms.atHandColdAndReserveOff}
            />
            <Big
              figure={figureOf(evaluation, "power.hours_left_h")}
              value={view.lasts_h == null ? "—" : `${fixed(view.lasts_h, 1)} h`}
              words={terms.itLasts}
              bad={view.ends_early}
            />
            <Big
              figure={figureOf(evaluation, "power.peak_a")}
              value={view.peak_a == null ? "—" : `${fixed(view.peak_a, 1)} A`}
              words={terms.atTheWorst}
            />
            <Big
              figure={figureOf(evaluation, "power.dew_margin_k")}
              value={`${view.margin_k > 0 ? "+" : "−"}${fixed(Math.abs(view.margin_k), 1)} K`}
              words={
                <Phrase
                  of={terms.aboveTheSettlesPointWhich}
                  with={{
                    settles: <Says text={view.settles} />,
                    which: view.heated ? terms.heated : "",
                  }}
                />
              }
              bad={view.dews_over}
            />
          </ul>
          <ChargeCurve view={view} chosen={chosen} choose={setChosen} />
          <DewCurve view={view} />
          <div className="power-foot">
            <table data-testid="plain-table" className="plain-table">
              <thead>
                <tr>
                  <th scope="col">{terms.draws}</th>
                  <th scope="col">{terms.mean}</th>
                  <th scope="col">{terms.atTheWorst}</th>
                  <th scope="col">{terms.overTheNight}</th>
                </tr>
              </thead>
              <tbody>
                {view.consumers.map((one, i) => (
                  <tr key={one.key} className={chosen === one.key ? "chosen-row" : undefined}>
                    <th scope="row">
                      <button
                        type="button"
                        className="draw-row"
                        aria-pressed={chosen === one.key}
                        onClick={() => setChosen(chosen === one.key ? null : one.key)}
                      >
                        <svg className="swatch" viewBox="0 0 10 10" aria-hidden="true">
                          <rect width="10" height="10" fill={DRAWS[i % DRAWS.length]} />
                        </svg>{" "}
                        {one.name}
                      </button>
                    </th>
                    <td className="num">
                      <Num of="PowerConsumer.mean_w">{fixed(one.mean_w, 1)}</Num> W
                    </td>
                    <td className="num">
                      <Num of="PowerConsumer.peak_w">{fixed(one.peak_w, 0)}</Num> W
                    </td>
                    <td className="num">
                      <Phrase
                        of={terms.whWh}
                        with={{ wh: <Num of="PowerConsumer.wh">{fixed(one.wh, 0)}</Num> }}
                      />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <div>
              {chosen ? (
                <ChosenDraw
                  rig={rig}
                  view={view}
                  chosen={chosen}
                  leave={() => setChosen(null)}
                  settle={(change, note) => commit((now) => ({ ...now, ...change }), note)}
                />
              ) : (
                <p className="quiet">{terms.chooseWhatDrawsInThePicture}</p>
              )}
              <ul className="plain-list">
                {view.outlets
                  .filter((one) => one.wanted > 0)
                  .map((one) => (
                    <li key={one.name} className={one.short ? "short" : ""} data-figure="PowerOutlets.wanted">
                      <span className="num">
                        <Phrase of={terms.wantedOfHad} with={{ wanted: one.wanted, had: one.had }} />
                      </span>{" "}
                      {one.name}
                    </li>
                  ))}
                {view.plugs.map((one) => (
                  <li key={one.name} data-figure="PowerOutlets.wanted">
                    <Phrase
                      of={terms.plugsNameWanted}
                      with={{
                        name: one.name,
                        wanted: (
                          <span className="num">
                            <Phrase
                              of={terms.wantedToFeedHadWhichIn}
                              with={{
                                wanted: one.wanted,
                                had: one.had,
                                which: one.had === 1 ? terms.cableOfTheRigEnds : terms.cablesOfTheRigEnd,
                              }}
                            />
                          </span>
                        ),
                      }}
                    />
                  </li>
                ))}
              </ul>
              <Cables view={view} supply={supply} set={set} />
              {view.notes.map((note) => (
                <p key={note.text}>
                  <Says text={note} />
                </p>
              ))}
              <p className="quiet">{terms.mainsOutdoorsOnlyThroughAResidual}</p>
            </div>
          </div>
        </>
      )}
      {picking && (
        <PartPicker
          title={
            picking.length === 1 && picking[0]
              ? phrase(common.chooseAPicking, { picking: kindName(picking[0]) })
              : common.addToTheRig
          }
          kinds={picking}
          close={() => setPicking(null)}
          onPick={(part) => {
            const change = withGear(rig, part);
            if (change)
              commit((now) => ({ ...now, ...change }), phrase(common.partAdded, { part: part.name }));
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
  words: ReactNode;
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
