/** Below the picture: what is asked less often, one thing at a time. */

import { Tabs } from "antd";
import type { MountView, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/mount";
import { Phrase, phrase } from "../../terms/phrase";
import { type ChosenLoad, isChosen } from "./chosen";
import { WindCurve } from "./WindCurve";

interface Props {
  rig: Rig;
  view: MountView;
  chosen: ChosenLoad | null;
  choose: (one: ChosenLoad) => void;
  settle: (change: Partial<Rig>, note: string) => void;
}

export function More(props: Props) {
  const { rig, view } = props;
  const count = (rig.riders ?? []).length + (rig.counterweights ?? []).length + (rig.extras ?? []).length;
  const items = [
    view.again.length > 0 && { key: "again", label: terms.balanceAgain, children: <Again view={view} /> },
    view.choices.length > 1 && {
      key: "weights",
      label: terms.otherWeights,
      children: <Others view={view} settle={props.settle} />,
    },
    view.winds && { key: "wind", label: terms.windFromTheSide, children: <WindCurve winds={view.winds} /> },
    { key: "carry", label: common.toCarry, children: <ToCarry view={view} /> },
    {
      key: "riding",
      label: phrase(terms.allThatRidesAlongCount, { count }),
      children: <Riding {...props} />,
    },
  ].filter((item) => item !== false && item !== null && item !== undefined);
  return <Tabs size="small" className="load-more" items={items} />;
}

/** Balance again for what changes in a night. */
function Again({ view }: { view: MountView }) {
  return (
    <div className="table-scroll again">
      <table data-testid="plain-table" className="plain-table" aria-label={terms.balanceAgain}>
        <thead>
          <tr>
            <th scope="col">{terms.when}</th>
            <th scope="col">{common.carried}</th>
            <th scope="col">{terms.saddleAt}</th>
            <th scope="col">{terms.weightsAt}</th>
          </tr>
        </thead>
        <tbody>
          {view.again.map((one) => (
            <tr key={one.words.text}>
              <th scope="row">
                <Says text={one.words} />
              </th>
              <td className="num">
                <Phrase
                  of={terms.massKgKg}
                  with={{ mass_kg: <Num of="LoadAgain.mass_kg">{fixed(one.mass_kg, 1)}</Num> }}
                />
              </td>
              <td className="num">
                <Num of="LoadAgain.saddle_mm">
                  {one.saddle_mm == null ? "—" : `${fixed(one.saddle_mm, 0)} mm`}
                </Num>
                {one.out_by_mm !== 0 && (
                  <span className="fault">
                    {" "}
                    <Phrase
                      of={terms.outByMmMmShort}
                      with={{
                        out_by_mm: <Num of="LoadAgain.out_by_mm">{fixed(Math.abs(one.out_by_mm), 0)}</Num>,
                      }}
                    />
                  </span>
                )}
              </td>
              <td className="num">
                <Num of="LoadAgain.weights_mm">
                  {one.weights_mm == null ? "—" : `${fixed(one.weights_mm, 0)} mm`}
                </Num>
                {one.fits.text && (
                  <span className="fault">
                    {" "}
                    <Says text={one.fits} />
                  </span>
                )}
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
    <ul data-testid="chips" className="chips weights" aria-label={terms.weightsThatBalance}>
      {view.choices.map((choice) => (
        <li key={choice.label.text}>
          <button
            type="button"
            onClick={() =>
              settle(
                { counterweights: [...choice.hung] },
                phrase(terms.weightsLabel, { label: choice.label.text }),
              )
            }
          >
            <Says text={choice.label} still />
            <span className="quiet num">
              {" "}
              <Phrase
                of={terms.inertiaKgM2KgM}
                with={{
                  inertia_kg_m2: (
                    <Num of="MountWeightChoice.inertia_kg_m2" still>
                      {fixed(choice.inertia_kg_m2, 2)}
                    </Num>
                  ),
                }}
              />
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function ToCarry({ view }: { view: MountView }) {
  return (
    <div className="carry">
      <ol>
        {view.trips.map((trip, i) => (
          <li key={`${i}-${trip.mass_kg}`}>
            <span className="num">
              <Phrase
                of={terms.massKgKg}
                with={{ mass_kg: <Num of="MountTrip.mass_kg">{fixed(trip.mass_kg, 1)}</Num> }}
              />
            </span>{" "}
            <span className="quiet" data-given>
              {trip.pieces.join(", ")}
            </span>
          </li>
        ))}
      </ol>
      {view.cases.map((line) => (
        <p key={line.text}>
          <Says text={line} />
        </p>
      ))}
      <p className="quiet">{terms.weightsFirstTelescopeSecondPackingThe}</p>
    </div>
  );
}

function Riding({ rig, chosen, choose, settle }: Props) {
  const extras = rig.extras ?? [];
  return (
    <ul className="riding" aria-label={terms.allThatRidesAlong}>
      {(rig.riders ?? []).map((placed, index) => (
        <li key={`r${placed.part.id}-${index}`}>
          <button
            type="button"
            aria-pressed={isChosen(chosen, "rider", index)}
            onClick={() => choose({ what: "rider", index })}
          >
            {placed.part.name}
            <span className="quiet num">
              <Phrase
                of={terms.sideAlongMmMmAlongWhich}
                with={{
                  side: placed.side ?? "top",
                  along_mm: (
                    <Num of="Placed.along_mm" still>
                      {fixed(placed.along_mm ?? 0, 0)}
                    </Num>
                  ),
                  which: placed.off_at_night ? terms.offAtNight2 : "",
                }}
              />
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
            <span className="quiet num">
              <Phrase
                of={terms.positionMmMmFromTheAxis}
                with={{
                  position_mm: (
                    <Num of="Hung.position_mm" still>
                      {fixed(hung.position_mm, 0)}
                    </Num>
                  ),
                }}
              />
            </span>
          </button>
        </li>
      ))}
      {extras.map((extra, index) => (
        <li key={`e${extra.id ?? extra.name}`}>
          <button
            type="button"
            aria-label={phrase(terms.takeTheExtraAway, { extra: extra.name })}
            onClick={() =>
              settle(
                { extras: extras.filter((_, k) => k !== index) },
                phrase(terms.extraTakenAway, { extra: extra.name }),
              )
            }
          >
            {extra.name}
            <span className="quiet">{terms.takeAway}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
