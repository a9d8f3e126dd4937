/** What is chosen in the picture, edited beside it: the tube in its saddle, a rider, a weight. */
import { Button, Checkbox, Select } from "antd";
import { Link } from "react-router";
import type { MountView, Rig } from "../../api/types";
import { NumberField } from "../../kit/NumberField";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/mount";
import { phrase } from "../../terms/phrase";
import type { ChosenLoad } from "./chosen";

type Settle = (change: Partial<Rig>, note: string) => void;
const SIDES = ["top", "left", "right", "below"] as const;
const OPPOSITE = { top: "below", below: "top", left: "right", right: "left" } as const;

interface Props {
  rig: Rig;
  view: MountView;
  chosen: ChosenLoad;
  settle: Settle;
  leave: () => void;
}

export function Chosen({ rig, view, chosen, settle, leave }: Props) {
  if (chosen.what === "tube") return <Tube rig={rig} view={view} settle={settle} />;
  if (chosen.what === "rider")
    return <Rider rig={rig} index={chosen.index} settle={settle} leave={leave} key={chosen.index} />;
  return <Weight rig={rig} index={chosen.index} settle={settle} leave={leave} key={chosen.index} />;
}

function Tube({ rig, view, settle }: Pick<Props, "rig" | "view" | "settle">) {
  return (
    <fieldset className="chosen-panel">
      <legend>{terms.theTubeInItsSaddle}</legend>
      <div className="fields">
        <NumberField
          of="Rig.saddle_mm"
          label={terms.saddleAheadOfTheRearShoulder}
          within={view.slide ? [Math.ceil(view.slide[0]), Math.floor(view.slide[1])] : undefined}
          value={rig.saddle_mm ?? Math.round(view.saddle_mm)}
          onChange={(saddle_mm) => settle({ saddle_mm }, terms.tubeSlid)}
        />
        {view.turns_in_rings && (
          <NumberField
            of="Rig.tube_turned_deg"
            label={terms.turnedInItsRings}
            value={rig.tube_turned_deg ?? 0}
            onChange={(value) => settle({ tube_turned_deg: value ?? 0 }, terms.tubeTurned)}
          />
        )}
      </div>
    </fieldset>
  );
}

interface One {
  rig: Rig;
  index: number;
  settle: Settle;
  leave: () => void;
}

function Rider({ rig, index, settle, leave }: One) {
  const riders = rig.riders ?? [];
  const placed = riders[index];
  if (!placed) return null;
  const { part } = placed;
  const side = placed.side ?? "top";
  const change = (next: Partial<typeof placed>, note = phrase(common.partMoved, { part: part.name })) =>
    settle({ riders: riders.map((entry, i) => (i === index ? { ...entry, ...next } : entry)) }, note);
  return (
    <fieldset className="chosen-panel">
      <legend>{part.name}</legend>
      <div className="fields">
        <NumberField
          of="Placed.along_mm"
          label={terms.along}
          value={placed.along_mm ?? 0}
          onChange={(value) => change({ along_mm: value ?? 0 })}
        />
        <NumberField
          of="Placed.off_mm"
          label={terms.offTheAxis}
          value={placed.off_mm ?? 0}
          onChange={(value) => change({ off_mm: value ?? 0 })}
        />
        <label className="stacked">
          {terms.side}
          <Select
            aria-label={phrase(terms.sideOfThePart, { part: part.name })}
            value={side}
            options={SIDES.map((value) => ({ value, label: value }))}
            onChange={(value) => change({ side: value })}
          />
        </label>
      </div>
      <Checkbox
        checked={placed.off_at_night ?? false}
        onChange={(event) =>
          change({ off_at_night: event.target.checked }, phrase(terms.partOffAtNight, { part: part.name }))
        }
      >
        {terms.offAtNight}
      </Checkbox>
      <div className="button-row">
        <Button size="small" onClick={() => change({ side: OPPOSITE[side] })}>
          {terms.oppositeSide}
        </Button>
        <Button
          size="small"
          aria-label={phrase(terms.takeThePartOff, { part: part.name })}
          onClick={() => {
            leave();
            settle(
              { riders: riders.filter((_, k) => k !== index) },
              phrase(terms.partTakenOff, { part: part.name }),
            );
          }}
        >
          {terms.takeOff}
        </Button>
        <OnShelf part={part} />
      </div>
    </fieldset>
  );
}

function OnShelf({ part }: { part: { id?: string | null } }) {
  return part.id ? <Link to={`/parts?part=${encodeURIComponent(part.id)}`}>{terms.itsShelfPage}</Link> : null;
}

function Weight({ rig, index, settle, leave }: One) {
  const hung = rig.counterweights ?? [];
  const one = hung[index];
  if (!one) return null;
  return (
    <fieldset className="chosen-panel">
      <legend>{one.part.name}</legend>
      <div className="fields">
        <NumberField
          of="Hung.position_mm"
          label={terms.fromTheAxis}
          value={one.position_mm}
          onChange={(value) =>
            settle(
              { counterweights: hung.map((w, k) => (k === index ? { ...w, position_mm: value ?? 0 } : w)) },
              phrase(common.partMoved, { part: one.part.name }),
            )
          }
        />
      </div>
      <div className="button-row">
        <Button
          size="small"
          aria-label={phrase(terms.takeThePartOff, { part: one.part.name })}
          onClick={() => {
            leave();
            settle(
              { counterweights: hung.filter((_, k) => k !== index) },
              phrase(terms.partTakenOff, { part: one.part.name }),
            );
          }}
        >
          {terms.takeOff}
        </Button>
        <OnShelf part={one.part} />
      </div>
    </fieldset>
  );
}
