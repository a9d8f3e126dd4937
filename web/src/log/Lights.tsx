/** Light by target, filter and rig: kept against wished, all bars at one scale. */
import { useState } from "react";
import { Link } from "react-router";
import type { LightTotal } from "../api/types";
import { hoursWords } from "../kit/quantity";
import { dayWords } from "../kit/words";

export function Lights({ lights }: { lights: readonly LightTotal[] }) {
  const [begun, setBegun] = useState(false);
  const shown = lights.filter((one) => !begun || one.kept_s > 0);
  const longest = Math.max(3600, ...shown.map((one) => Math.max(one.kept_s, one.wished_s ?? 0)));
  const width = (seconds: number) => `${(seconds / longest) * 100}%`;
  if (lights.length === 0)
    return <p className="empty">No light is logged, and none is wished: frame a target on a rig first.</p>;
  return (
    <section aria-label="Light by target" className="lights">
      <label className="quiet">
        <input type="checkbox" checked={begun} onChange={(event) => setBegun(event.target.checked)} /> only
        what is begun
      </label>{" "}
      <a className="link" href="/api/v1/sessions/light.csv" download>
        All subs as CSV
      </a>
      <div className="table-scroll" role="region" tabIndex={0} aria-label="Light by target, filter and rig">
        <table className="plain-table" data-testid="lights">
          <thead>
            <tr>
              <th scope="col">target</th>
              <th scope="col">filter</th>
              <th scope="col">rig</th>
              <th scope="col" className="light-col">
                kept of wished
              </th>
              <th scope="col">open</th>
              <th scope="col">came together</th>
              <th scope="col">framed</th>
              <th scope="col">last</th>
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
                <td>{one.filter || "none"}</td>
                <td>{one.rig}</td>
                <td>
                  <svg className="light-bar" width="100%" height="12" aria-hidden="true">
                    {one.wished_s != null && (
                      <rect width={width(one.wished_s)} height="12" className="bar-wished" />
                    )}
                    <rect y="2" width={width(one.kept_s)} height="8" className="bar-light" />
                  </svg>
                  <span className="num">
                    {hoursWords(one.kept_s / 3600)}
                    {one.wished_s != null && (
                      <span className="quiet"> of {hoursWords(one.wished_s / 3600)}</span>
                    )}
                  </span>
                </td>
                <td className="num">
                  {one.open_s == null ? "—" : one.open_s === 0 ? "done" : hoursWords(one.open_s / 3600)}
                </td>
                <td className="num">{one.words || "—"}</td>
                <td className="num">{one.framing || "—"}</td>
                <td className="num">{one.last ? dayWords(one.last) : "—"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
