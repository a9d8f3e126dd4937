/** The Load step: tube, riders and weights in side elevation, moved by hand. */
import { Button, Checkbox } from "antd";
import { useCallback, useRef, useState } from "react";
import { api, dataAs } from "../../api/client";
import type { MountView, Part, Rig } from "../../api/types";
import { FigureValue } from "../../kit/FigureValue";
import { Says } from "../../kit/Says";
import { withGear } from "../../rig/gear";
import { PartPicker } from "../../rig/PartPicker";
import { kindName } from "../../rig/path";
import { useDrawn } from "../../rig/useDrawn";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/mount";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { Chosen } from "./Chosen";
import type { ChosenLoad } from "./chosen";
import { Elevation } from "./Elevation";
import { More } from "./More";
import { TipRose } from "./TipRose";
import "./mount.module.css";

const PAUSE_MS = 90;
const NUMBERS: [key: string, label: string][] = [
  ["mount.total_kg", common.carried],
  ["mount.payload_fraction", terms.ofThePayload],
  ["mount.counterweight_position_mm", terms.weightsBalanceAt],
  ["mount.centre_along_mm", terms.tubeOutOfBalance],
  ["mount.inertia_kg_m2", terms.inertia],
  ["mount.wind_shake_px", terms.shakenByTheWind],
];

export default function Mount({ rig, preview, commit }: StepProps) {
  const [chosen, setChosen] = useState<ChosenLoad | null>(null);
  const [picking, setPicking] = useState<Part["kind"][] | null>(null);
  const { view, fault, ask } = useDrawn(rig, (given) =>
    dataAs<MountView>(api.POST("/api/v1/mount", { body: { rig: given } })),
  );
  const pause = useRef(0);
  const figures = view?.figures ?? [];
  const settle = useCallback(
    (change: Partial<Rig>, note: string) => {
      window.clearTimeout(pause.current);
      preview(null);
      commit((now) => ({ ...now, ...change }), note);
    },
    [preview, commit],
  );
  // While a hand drags, the picture and its numbers follow; the findings of all steps come when it pauses.
  const drawn = (change: Partial<Rig>) => {
    const draft = { ...rig, ...change };
    void ask(draft);
    window.clearTimeout(pause.current);
    pause.current = window.setTimeout(() => preview(draft), PAUSE_MS);
  };
  const stand = () => {
    window.clearTimeout(pause.current);
    preview(null);
    void ask(rig);
  };
  return (
    <div className="load">
      <div className="gear-line" role="toolbar" aria-label={terms.whatCarriesIt}>
        <Gear
          words={terms.mount}
          part={rig.mount ?? null}
          onPick={() => setPicking(["mount"])}
          onDrop={() => settle({ mount: null }, terms.mountTakenOff)}
        />
        <Gear
          words={terms.support}
          part={rig.support ?? null}
          onPick={() => setPicking(["support"])}
          onDrop={() => settle({ support: null }, terms.supportTakenAway)}
        />
        <Button size="small" onClick={() => setPicking(["rider", "guide_scope", "dew_heater"])}>
          {terms.addARider}
        </Button>
        <Button size="small" onClick={() => setPicking(["counterweight"])}>
          {terms.hangAWeight}
        </Button>
        <Button size="small" onClick={() => setPicking(["accessory"])}>
          {terms.addAnAccessory}
        </Button>
        {rig.support?.style === "tripod" && rig.mount && (
          <Checkbox
            checked={rig.tripod_turned ?? false}
            onChange={(event) => settle({ tripod_turned: event.target.checked }, terms.tripodTurned)}
          >
            {terms.tripodTurnedTwoLegsToThe}
          </Checkbox>
        )}
      </div>
      {fault && <p className="fault">{fault}</p>}
      {view && view.boxes.length === 0 && <p className="empty">{terms.nothingRidesOnTheSaddleYet}</p>}
      {view && view.boxes.length > 0 && (
        <div className="load-body">
          <div className="load-picture">
            <Elevation
              rig={rig}
              view={view}
              chosen={chosen}
              onChoose={setChosen}
              onPreview={drawn}
              onSettle={settle}
              onGiveUp={stand}
            />
            {view.tips.length > 0 && (
              <TipRose tips={view.tips} words={view.tips_words.text} feet={view.feet} />
            )}
          </div>
          <div className="load-side">
            <div data-testid="mount-numbers" className="load-numbers">
              {NUMBERS.map(([key, label]) => {
                const figure = figures.find((entry) => entry.key === key);
                return figure ? <FigureValue key={key} figure={figure} label={label} /> : null;
              })}
            </div>
            {!rig.mount && <p className="empty">{terms.noMountYetWhatItMay}</p>}
            <div className="button-row">
              {view.slid && (
                <Button
                  onClick={() => settle({ counterweights: [...(view.slid ?? [])] }, terms.weightsBalanced)}
                >
                  {terms.balanceTheWeights}
                </Button>
              )}
              {view.balanced_saddle_mm != null && (
                <Button onClick={() => settle({ saddle_mm: view.balanced_saddle_mm }, terms.tubeBalanced)}>
                  {terms.balanceTheTube}
                </Button>
              )}
            </div>
            {view.mark.text && (
              <p className="quiet">
                <Phrase of={terms.markOnTheShaftMark} with={{ mark: <Says text={view.mark} /> }} />
              </p>
            )}
            {view.notes.map((note) => (
              <p key={note.text} className="quiet">
                <Says text={note} />
              </p>
            ))}
            {chosen ? (
              <Chosen rig={rig} view={view} chosen={chosen} settle={settle} leave={() => setChosen(null)} />
            ) : (
              <p className="quiet">{terms.chooseSomethingInThePictureTo}</p>
            )}
          </div>
        </div>
      )}
      {view && <More rig={rig} view={view} chosen={chosen} choose={setChosen} settle={settle} />}
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
            if (change) settle(change, phrase(common.partAdded, { part: part.name }));
            setPicking(null);
          }}
        />
      )}
    </div>
  );
}

function Gear({
  words,
  part,
  onPick,
  onDrop,
}: {
  words: string;
  part: { name: string } | null;
  onPick: () => void;
  onDrop: () => void;
}) {
  return (
    <span className="gear">
      <Button size="small" type={part ? "default" : "primary"} onClick={onPick}>
        {part ? part.name : phrase(terms.chooseAWords, { words })}
      </Button>
      {part && (
        <button
          type="button"
          className="plain-button"
          aria-label={phrase(terms.takeTheWordsAway, { words })}
          onClick={onDrop}
        >
          ×
        </button>
      )}
    </span>
  );
}
