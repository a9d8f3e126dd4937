/** Light by target, filter and rig: kept against wished, all bars at one scale. */

import { useState } from "react";
import { Link } from "react-router";
import type { LightTotal } from "../api/types";
import { Num } from "../kit/Calculated";
import { hoursWords } from "../kit/quantity";
import { Says } from "../kit/Says";
import { dayWords } from "../kit/words";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase } from "../terms/phrase";

export function Lights({ lights }: { lights: readonly LightTotal[] }) {
  const [begun, setBegun] = useState(false);
  const shown = lights.filter((one) => !begun || one.kept_s > 0);
  const longest = Math.max(3600, ...shown.map((one) => Math.max(one.kept_s, one.goal_s ?? 0)));
  const width = (seconds: number) => `${(seconds / longest) * 100}%`;
  if (lights.length === 0) return <p className="empty">{terms.noLightIsLoggedAndNone}</p>;
  return (
    <section aria-label={terms.lightByTarget} className="lights">
      <label className="quiet">
        <input type="checkbox" checked={begun} onChange={(event) => setBegun(event.target.checked)} />{" "}
        {terms.onlyWhatIsBegun}
      </label>{" "}
      <a className="link" href="/api/v1/sessions/light.csv" download>
        {terms.allSubsAsCsv}
      </a>
      <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.lightByTargetFilterAndRig}>
        <table className="plain-table" data-testid="lights">
          <thead>
            <tr>
              <th scope="col">{common.target}</th>
              <th scope="col">{common.filter}</th>
              <th scope="col">{common.rig}</th>
              <th scope="col" className="light-col">
                {terms.keptOfWished}
              </th>
              <th scope="col">{terms.open}</th>
              <th scope="col">{terms.cameTogether}</th>
              <th scope="col">{terms.framed}</th>
              <th scope="col">{terms.last}</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((one) => (
              <tr key={`${one.rig_id} ${one.target} ${one.filter}`}>
                <th scope="row">
                  <Link to={`/rigs/${one.rig_id}/aim?target=${encodeURIComponent(one.target)}`}>
                    {one.name}
                  </Link>
                </th>
                <td>{one.filter || common.none}</td>
                <td>{one.rig}</td>
                <td>
                  <svg className="light-bar" width="100%" height="12" aria-hidden="true">
                    {one.goal_s != null && (
                      <rect width={width(one.goal_s)} height="12" className="bar-goal" />
                    )}
                    <rect y="2" width={width(one.kept_s)} height="8" className="bar-light" />
                  </svg>
                  <span className="num">
                    <Num of="LightTotal.kept_s">{hoursWords(one.kept_s / 3600)}</Num>
                    {one.goal_s != null && (
                      <span className="quiet">
                        {" "}
                        <Phrase
                          of={terms.ofWishedS}
                          with={{
                            goal_s: <Num of="LightTotal.goal_s">{hoursWords(one.goal_s / 3600)}</Num>,
                          }}
                        />
                      </span>
                    )}
                  </span>
                </td>
                <td className="num">
                  <Num of="LightTotal.open_s">
                    {one.open_s == null ? "—" : one.open_s === 0 ? terms.done : hoursWords(one.open_s / 3600)}
                  </Num>
                </td>
                <td className="num">
                  {one.words.text ? <Says text={one.words} of="LightTotal.words" /> : "—"}
                </td>
                <td className="num">
                  {one.framing ? <Num of="LightTotal.framing">{one.framing}</Num> : "—"}
                </td>
                <td className="num">{one.last ? dayWords(one.last) : "—"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
