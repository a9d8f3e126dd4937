/** The Load step: tube, riders and weights in side elevation, moved by hand. */
import { Button, Checkbox, Select } from "antd";
import { memo, useCallback, useRef, useState } from "react";
import { api, dataAs } from "../../api/client";
import type { LoadView, Part, Rig } from "../../api/types";
import { FigureValue } from "../../drawing/FigureValue";
import { QuantityInput } from "../../drawing/QuantityInput";
import { fixed } from "../../drawing/quantity";
import { withGear } from "../../rig/gear";
import { PartPicker } from "../../rig/PartPicker";
import { kindName } from "../../rig/path";
import { useDrawn } from "../../rig/useDrawn";
import type { StepProps } from "../step";
import { Elevation } from "./Elevation";
import { TipRose } from "./TipRose";
import { WindCurve } from "./WindCurve";

const PAUSE_MS = 90;
const NUMBERS: [key: string, label: string][] = [
  ["load.total_kg", "carried"],
  ["load.payload_fraction", "of the payload"],
  ["load.counterweight_position_mm", "weights balance at"],
  ["load.centre_along_mm", "tube out of balance"],
  ["load.inertia_kg_m2", "inertia"],
  ["load.wind_shake_px", "shaken by the wind"],
];

export default function Load({ rig, preview, commit }: StepProps) {
  const [picking, setPicking] = useState<Part["kind"][] | null>(null);
  const { view, fault, ask } = useDrawn(rig, (given) =>
    dataAs<LoadView>(api.POST("/api/v1/load", { body: { rig: given } })),
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
  return (
    <div className="load">
      <div className="gear-line" role="toolbar" aria-label="What carries it">
        <Gear
          words="mount"
          part={rig.mount ?? null}
          onPick={() => setPicking(["mount"])}
          onDrop={() => settle({ mount: null }, "mount taken off")}
        />
        <Gear
          words="support"
          part={rig.support ?? null}
          onPick={() => setPicking(["support"])}
          onDrop={() => settle({ support: null }, "support taken away")}
        />
        <Button size="small" onClick={() => setPicking(["rider", "guide_scope", "dew_heater"])}>
          Add a rider
        </Button>
        <Button size="small" onClick={() => setPicking(["counterweight"])}>
          Hang a weight
        </Button>
        <Button size="small" onClick={() => setPicking(["accessory"])}>
          Add an accessory
        </Button>
        {rig.support?.style === "tripod" && rig.mount && (
          <Checkbox
            checked={rig.tripod_turned ?? false}
            onChange={(event) => settle({ tripod_turned: event.target.checked }, "tripod turned")}
          >
            tripod turned: two legs to the pole
          </Checkbox>
        )}
        {view?.turns_in_rings && (
          <QuantityInput
            label="Tube turned in its rings"
            unit="°"
            low={0}
            high={360}
            value={rig.tube_turned_deg ?? 0}
            onChange={(value, ok) => ok && settle({ tube_turned_deg: value ?? 0 }, "tube turned")}
          />
        )}
      </div>
      {fault && <p className="fault">{fault}</p>}
      {view && view.boxes.length === 0 && (
        <p className="empty">Nothing rides on the saddle yet: begin with a telescope.</p>
      )}
      {view && view.boxes.length > 0 && (
        <div className="load-body">
          <div className="load-picture">
            <Elevation rig={rig} view={view} onPreview={drawn} onSettle={settle} />
            {view.tips.length > 0 && <TipRose tips={view.tips} words={view.tips_words} feet={view.feet} />}
          </div>
          <div className="load-side">
            <div data-testid="load-numbers" className="load-numbers">
              {NUMBERS.map(([key, label]) => {
                const figure = figures.find((entry) => entry.key === key);
                return figure ? <FigureValue key={key} figure={figure} label={label} /> : null;
              })}
            </div>
            {!rig.mount && <p className="empty">No mount yet: what it may weigh is not known.</p>}
            <div className="button-row">
              {view.slid && (
                <Button
                  onClick={() => settle({ counterweights: [...(view.slid ?? [])] }, "weights balanced")}
                >
                  Balance the weights
                </Button>
              )}
              {view.balanced_saddle_mm != null && (
                <Button onClick={() => settle({ saddle_mm: view.balanced_saddle_mm }, "tube balanced")}>
                  Balance the tube
                </Button>
              )}
            </div>
            {view.mark && <p className="quiet">Mark on the shaft: {view.mark}.</p>}
            {view.choices.length > 1 && (
              <ul data-testid="chips" className="chips weights" aria-label="Weights that balance">
                {view.choices.map((choice) => (
                  <li key={choice.label}>
                    <button
                      type="button"
                      onClick={() => settle({ counterweights: [...choice.hung] }, `weights: ${choice.label}`)}
                    >
                      {choice.label}
                      <span className="quiet num"> {choice.inertia_kg_m2.toFixed(2)} kg·m²</span>
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </div>
        </div>
      )}
      {view && <Riders rig={rig} settle={settle} />}
      {view && <Weights rig={rig} settle={settle} />}
      {view && (
        <div className="load-foot">
          {view.again.length > 0 && <Again view={view} />}
          <section>
            <h3>To carry</h3>
            <ol>
              {view.trips.map((trip, i) => (
                <li key={`${i}-${trip.mass_kg}`}>
                  <span className="num">{trip.mass_kg.toFixed(1)} kg</span>{" "}
                  <span className="quiet">{trip.pieces.join(", ")}</span>
                </li>
              ))}
            </ol>
            {view.cases.map((line) => (
              <p key={line}>{line}</p>
            ))}
          </section>
          <section>
            <h3>With care</h3>
            <p className="quiet">
              Weights first, telescope second; packing, the other way round. The stop bolt goes back on the
              shaft's end. Keep feet and fingers clear; heavy tubes are lifted by two.
            </p>
            {(rig.extras ?? []).length > 0 && (
              <ul data-testid="chips" className="chips" aria-label="Accessories">
                {(rig.extras ?? []).map((extra, i) => (
                  <li key={extra.id ?? extra.name}>
                    <button
                      type="button"
                      onClick={() =>
                        settle(
                          { extras: (rig.extras ?? []).filter((_, k) => k !== i) },
                          `${extra.name} taken away`,
                        )
                      }
                    >
                      {extra.name} ×
                    </button>
                  </li>
                ))}
              </ul>
            )}
            {view.notes.map((note) => (
              <p key={note} className="quiet">
                {note}
              </p>
            ))}
          </section>
        </div>
      )}
      {picking && (
        <PartPicker
          title={picking.length === 1 && picking[0] ? `Choose a ${kindName(picking[0])}` : "Add to the rig"}
          kinds={picking}
          close={() => setPicking(null)}
          onPick={(part) => {
            const change = withGear(rig, part);
            if (change) settle(change, `${part.name} added`);
            setPicking(null);
          }}
        />
      )}
    </div>
  );
}

/** Balance again for what changes in a night, and the shake over the wind. */
function Again({ view }: { view: LoadView }) {
  return (
    <section className="again">
      <h3>Balance again</h3>
      <div className="table-scroll">
        <table data-testid="plain-table" className="plain-table">
          <thead>
            <tr>
              <th scope="col">when</th>
              <th scope="col">carried</th>
              <th scope="col">saddle at</th>
              <th scope="col">weights at</th>
            </tr>
          </thead>
          <tbody>
            {view.again.map((one) => (
              <tr key={one.words}>
                <th scope="row">{one.words}</th>
                <td className="num">{one.mass_kg.toFixed(1)} kg</td>
                <td className="num">
                  {one.saddle_mm == null ? "—" : `${fixed(one.saddle_mm, 0)} mm`}
                  {one.out_by_mm !== 0 && (
                    <span className="fault"> {Math.abs(one.out_by_mm).toFixed(0)} mm short</span>
                  )}
                </td>
                <td className="num">
                  {one.weights_mm == null ? "—" : `${fixed(one.weights_mm, 0)} mm`}
                  {one.fits && <span className="fault"> {one.fits}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {view.winds && (
        <>
          <h3>Wind from the side</h3>
          <WindCurve winds={view.winds} />
        </>
      )}
    </section>
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
        {part ? part.name : `Choose a ${words}`}
      </Button>
      {part && (
        <button type="button" className="plain-button" aria-label={`Take the ${words} away`} onClick={onDrop}>
          ×
        </button>
      )}
    </span>
  );
}

interface TableProps {
  rig: Rig;
  settle: (change: Partial<Rig>, note: string) => void;
}

// Rows of fields are costly to draw; while a hand drags they stand still.
const Riders = memo(function Riders({ rig, settle }: TableProps) {
  const riders = rig.riders ?? [];
  if (riders.length === 0) return null;
  const change = (index: number, part: Partial<(typeof riders)[number]>, note: string) =>
    settle({ riders: riders.map((entry, i) => (i === index ? { ...entry, ...part } : entry)) }, note);
  return (
    <section className="gear-rows" aria-label="Riders">
      {riders.map((placed, i) => (
        <fieldset key={`${placed.part.id}-${i}`}>
          <legend>{placed.part.name}</legend>
          <QuantityInput
            label="along"
            unit="mm"
            low={-3000}
            high={3000}
            required
            value={placed.along_mm ?? 0}
            onChange={(value, ok) =>
              ok && value !== null && change(i, { along_mm: value }, `${placed.part.name} moved`)
            }
          />
          <QuantityInput
            label="off the axis"
            unit="mm"
            low={0}
            high={2000}
            required
            value={placed.off_mm ?? 0}
            onChange={(value, ok) =>
              ok && value !== null && change(i, { off_mm: value }, `${placed.part.name} moved`)
            }
          />
          <label className="stacked">
            side
            <Select
              aria-label={`Side of the ${placed.part.name}`}
              value={placed.side ?? "top"}
              options={["top", "left", "right", "below"].map((value) => ({ value, label: value }))}
              onChange={(side) => change(i, { side: side as "top" }, `${placed.part.name} moved`)}
            />
          </label>
          <label>
            <input
              type="checkbox"
              checked={placed.off_at_night ?? false}
              onChange={(event) =>
                change(i, { off_at_night: event.target.checked }, `${placed.part.name} off at night`)
              }
            />{" "}
            off at night
          </label>
          <button
            type="button"
            className="plain-button"
            aria-label={`Take the ${placed.part.name} off`}
            onClick={() =>
              settle({ riders: riders.filter((_, k) => k !== i) }, `${placed.part.name} taken off`)
            }
          >
            ×
          </button>
        </fieldset>
      ))}
    </section>
  );
});

const Weights = memo(function Weights({ rig, settle }: TableProps) {
  const hung = rig.counterweights ?? [];
  if (hung.length === 0) return null;
  return (
    <section className="gear-rows" aria-label="Counterweights">
      {hung.map((one, i) => (
        <fieldset key={`${one.part.id}-${i}`}>
          <legend>{one.part.name}</legend>
          <QuantityInput
            label="from the axis"
            unit="mm"
            low={0}
            high={3000}
            required
            value={one.position_mm}
            onChange={(value, ok) =>
              ok &&
              value !== null &&
              settle(
                { counterweights: hung.map((w, k) => (k === i ? { ...w, position_mm: value } : w)) },
                `${one.part.name} moved`,
              )
            }
          />
          <button
            type="button"
            className="plain-button"
            aria-label={`Take the ${one.part.name} off`}
            onClick={() =>
              settle({ counterweights: hung.filter((_, k) => k !== i) }, `${one.part.name} taken off`)
            }
          >
            ×
          </button>
        </fieldset>
      ))}
    </section>
  );
});
