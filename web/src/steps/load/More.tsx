/** Below the picture: what is asked less often, one thing at a time. */
import { Tabs } from "antd";
import type { LoadView, Rig } from "../../api/types";
import { fixed } from "../../kit/quantity";
import { type ChosenLoad, isChosen } from "./chosen";
import { WindCurve } from "./WindCurve";

interface Props {
  rig: Rig;
  view: LoadView;
  chosen: ChosenLoad | null;
  choose: (one: ChosenLoad) => void;
  settle: (change: Partial<Rig>, note: string) => void;
}

export function More(props: Props) {
  const { rig, view } = props;
  const count = (rig.riders ?? []).length + (rig.counterweights ?? []).length + (rig.extras ?? []).length;
  const items = [
    view.again.length > 0 && { key: "again", label: "Balance again", children: <Again view={view} /> },
    view.choices.length > 1 && {
      key: "weights",
      label: "Other weights",
      children: <Others view={view} settle={props.settle} />,
    },
    view.winds && { key: "wind", label: "Wind from the side", children: <WindCurve winds={view.winds} /> },
    { key: "carry", label: "To carry", children: <ToCarry view={view} /> },
    { key: "riding", label: `All that rides along (${count})`, children: <Riding {...props} /> },
  ].filter((item) => item !== false && item !== null && item !== undefined);
  return <Tabs size="small" className="load-more" items={items} />;
}

/** Balance again for what changes in a night. */
function Again({ view }: { view: LoadView }) {
  return (
    <div className="table-scroll again">
      <table data-testid="plain-table" className="plain-table" aria-label="Balance again">
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
              <td className="num">{fixed(one.mass_kg, 1)} kg</td>
              <td className="num">
                {one.saddle_mm == null ? "—" : `${fixed(one.saddle_mm, 0)} mm`}
                {one.out_by_mm !== 0 && (
                  <span className="fault"> {fixed(Math.abs(one.out_by_mm), 0)} mm short</span>
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
  );
}

function Others({ view, settle }: Pick<Props, "view" | "settle">) {
  return (
    <ul data-testid="chips" className="chips weights" aria-label="Weights that balance">
      {view.choices.map((choice) => (
        <li key={choice.label}>
          <button
            type="button"
            onClick={() => settle({ counterweights: [...choice.hung] }, `weights: ${choice.label}`)}
          >
            {choice.label}
            <span className="quiet num"> {fixed(choice.inertia_kg_m2, 2)} kg·m²</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function ToCarry({ view }: { view: LoadView }) {
  return (
    <div className="carry">
      <ol>
        {view.trips.map((trip, i) => (
          <li key={`${i}-${trip.mass_kg}`}>
            <span className="num">{fixed(trip.mass_kg, 1)} kg</span>{" "}
            <span className="quiet">{trip.pieces.join(", ")}</span>
          </li>
        ))}
      </ol>
      {view.cases.map((line) => (
        <p key={line}>{line}</p>
      ))}
      <p className="quiet">
        Weights first, telescope second; packing, the other way round. The stop bolt goes back on the shaft's
        end. Keep feet and fingers clear; heavy tubes are lifted by two.
      </p>
    </div>
  );
}

function Riding({ rig, chosen, choose, settle }: Props) {
  const extras = rig.extras ?? [];
  return (
    <ul className="riding" aria-label="All that rides along">
      {(rig.riders ?? []).map((placed, index) => (
        <li key={`r${placed.part.id}-${index}`}>
          <button
            type="button"
            aria-pressed={isChosen(chosen, "rider", index)}
            onClick={() => choose({ what: "rider", index })}
          >
            {placed.part.name}
            <span className="quiet num">
              {placed.side ?? "top"}, {fixed(placed.along_mm ?? 0, 0)} mm along
              {placed.off_at_night ? ", off at night" : ""}
            </span>
          </button>
        </li>
      ))}
      {(rig.counterweights ?? []).map((hung, index) => (
        <li key={`w${hung.part.id}-${index}`}>
          <button
            type="button"
            aria-pressed={isChosen(chosen, "weight", index)}
            onClick={() => choose({ what: "weight", index })}
          >
            {hung.part.name}
            <span className="quiet num">{fixed(hung.position_mm, 0)} mm from the axis</span>
          </button>
        </li>
      ))}
      {extras.map((extra, index) => (
        <li key={`e${extra.id ?? extra.name}`}>
          <button
            type="button"
            aria-label={`Take the ${extra.name} away`}
            onClick={() =>
              settle({ extras: extras.filter((_, k) => k !== index) }, `${extra.name} taken away`)
            }
          >
            {extra.name}
            <span className="quiet">take away</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
