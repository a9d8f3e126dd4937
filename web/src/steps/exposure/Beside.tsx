/** What belongs to the lights: the camera's settings, its cooler through the year, calibration frames, focus. */

import { Button } from "antd";
import type { ExposureView, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { NumberField } from "../../kit/NumberField";
import { fixed, plain } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms } from "../../terms/exposure";
import { Phrase, phrase } from "../../terms/phrase";

interface Props {
  rig: Rig;
  view: ExposureView;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
}

type Dark = NonNullable<ExposureView["calibration"][number]["dark"]>;

/** The rig with the darks of its camera changed. */
const withDarks = (change: (darks: Dark[]) => Dark[]) => (rig: Rig) => ({
  ...rig,
  path: (rig.path ?? []).map((item) =>
    item.part.kind === "camera"
      ? { ...item, part: { ...item.part, darks: change(item.part.darks ?? []) } }
      : item,
  ),
});
const alike = (one: Dark, other: Dark) =>
  one.set_c === other.set_c && (one.gain ?? 0) === (other.gain ?? 0) && one.sub_s === other.sub_s;

export function Beside({ rig, view, commit }: Props) {
  const shooting = rig.shooting ?? {};
  const mode = view.modes.find((one) => one.in_use);
  const missing = view.calibration.filter((one) => one.dark && !one.on_hand).length;
  const told = [
    mode && phrase(terms.gainGain, { gain: plain(mode.gain) }),
    view.set_c != null && `${fixed(view.set_c, 0)} °C`,
    missing > 0 &&
      phrase(terms.missingWhichOfDarksMissing, { missing, which: missing === 1 ? terms.set : terms.sets }),
  ].filter(Boolean);
  return (
    <details className="expose-more" data-testid="exposure-more">
      <summary>
        <Phrase
          of={terms.cameraSettingsCoolerCalibrationFramesFocus}
          with={{ told: <span className="quiet num">{told.join(" · ")}</span> }}
        />
      </summary>
      <div className="expose-foot">
        <section>
          <h2>{terms.cameraSettings}</h2>
          {view.modes.length === 0 ? (
            <p className="quiet">{terms.theCameraGivesNoSettingsWith}</p>
          ) : (
            <table data-testid="modes" className="plain-table">
              <thead>
                <tr>
                  <th scope="col">{terms.gain}</th>
                  <th scope="col">{terms.readNoise}</th>
                  <th scope="col">{terms.well}</th>
                  <th scope="col">{terms.stops}</th>
                  <th scope="col">{terms.subFrom}</th>
                </tr>
              </thead>
              <tbody>
                {view.modes.map((mode) => (
                  <tr key={mode.gain} className={mode.in_use ? "mode-now" : undefined}>
                    <th scope="row">
                      <button
                        type="button"
                        className="link"
                        aria-pressed={mode.in_use}
                        onClick={() =>
                          commit(
                            (now) => ({ ...now, shooting: { ...(now.shooting ?? {}), gain: mode.gain } }),
                            phrase(terms.gainSetToGain, { gain: mode.gain }),
                          )
                        }
                      >
                        <Num of="ExposureMode.gain" still>
                          {plain(mode.gain)}
                        </Num>
                      </button>
                    </th>
                    <td className="num">
                      <Num of="ExposureMode.read_noise_e">{fixed(mode.read_noise_e, 1)}</Num> e⁻
                    </td>
                    <td className="num">
                      <Num of="ExposureMode.well_e">{fixed(mode.well_e, 0)}</Num> e⁻
                    </td>
                    <td className="num">
                      <Num of="ExposureMode.stops">{fixed(mode.stops, 1)}</Num>
                    </td>
                    <td className="num">
                      <Num of="ExposureMode.shortest_s">
                        {mode.shortest_s == null ? "—" : `${fixed(mode.shortest_s, 0)} s`}
                      </Num>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {view.set_c != null && (
            <NumberField
              of="Shooting.set_c"
              value={shooting.set_c ?? view.set_c}
              onChange={(set_c) =>
                commit((now) => ({ ...now, shooting: { ...(now.shooting ?? {}), set_c } }), terms.setPointSet)
              }
            />
          )}
          <p className="quiet">
            <Says text={view.cooler_words} />.
          </p>
          {view.months.length > 0 && view.set_c != null && <Cooler view={view} />}
        </section>
        <section>
          <h2>{terms.calibrationFrames}</h2>
          <ul data-testid="calibration" className="plain-list">
            {view.calibration.map((one) => {
              const { dark } = one;
              return (
                <li key={`${one.kind} ${one.words.text}`}>
                  <span className="num">{one.count}</span> {one.kind}: <Says text={one.words} />.{" "}
                  <span className="quiet">{one.on_hand ? terms.onHand : `${one.when.text}.`}</span>{" "}
                  {dark && (
                    <Button
                      size="small"
                      onClick={() =>
                        commit(
                          withDarks((darks) =>
                            one.on_hand ? darks.filter((kept) => !alike(kept, dark)) : [...darks, dark],
                          ),
                          one.on_hand ? terms.darksGivenUp : terms.darksOnHand,
                        )
                      }
                    >
                      {one.on_hand ? terms.noLonger : terms.onHand2}
                    </Button>
                  )}
                </li>
              );
            })}
          </ul>
        </section>
        <section>
          <h2>{terms.refocus}</h2>
          <ul data-testid="refocus" className="plain-list">
            {view.refocus.map((words) => (
              <li key={words.text}>
                <Says text={words} />
              </li>
            ))}
          </ul>
        </section>
      </div>
    </details>
  );
}

/** How cold the cooler holds on each month's usual night, against the set point. */
function Cooler({ view }: { view: ExposureView }) {
  const warm = view.months.filter((month) => !month.holds);
  return (
    <table data-testid="months" className="plain-table cooler-months">
      <caption className="quiet">
        <Phrase
          of={terms.coldestSetPointHeldFromDusk}
          with={{
            warm:
              warm.length === 0
                ? terms.theChosenOneHoldsAllYear
                : phrase(terms.notTheChosenOneInWarm, { warm: warm.map((one) => one.name).join(", ") }),
          }}
        />
      </caption>
      <tbody>
        <tr>
          {view.months.map((month) => (
            <th key={month.name} scope="col">
              {month.name.slice(0, 1)}
            </th>
          ))}
        </tr>
        <tr>
          {view.months.map((month) => (
            <td
              key={month.name}
              className="num"
              title={phrase(terms.monthDuskCCAtDusk, { month: month.name, dusk_c: fixed(month.dusk_c, 0) })}
            >
              <Num of="ExposureMonth.safe_c">{fixed(month.safe_c, 0)}</Num>
            </td>
          ))}
        </tr>
        <tr>
          {view.months.map((month) => (
            <td key={month.name}>
              <Mark verdict={month.holds ? "ok" : "problem"} />
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}
