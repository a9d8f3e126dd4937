/** What a change does to one rig: the numbers that move, how its targets fit, the verdicts that change. */

import type { Change } from "../api/types";
import { Num } from "../kit/Calculated";
import { Mark } from "../kit/Mark";
import { fixed } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms } from "../terms/rig";

export function ChangeTold({ change }: { change: Change }) {
  return (
    <>
      <Numbers change={change} />
      <Fits change={change} />
      <Moved change={change} />
    </>
  );
}

function Numbers({ change }: { change: Change }) {
  const rows = change.rows.filter((row) => {
    const [a, b] = [row.before, row.after];
    return a == null || b == null ? a !== b : Math.abs(a - b) > 0.5 * 10 ** -row.decimals;
  });
  if (rows.length === 0) return <p className="quiet">{terms.noNumberMoves}</p>;
  return (
    <table data-testid="plain-table" className="plain-table">
      <thead>
        <tr>
          <th scope="col" />
          <th scope="col">{terms.before}</th>
          <th scope="col">{terms.after}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.title}>
            <th scope="row">{row.title}</th>
            <td className="num">
              <Num of="MovedFigure.before">{row.before == null ? "—" : fixed(row.before, row.decimals)}</Num>
            </td>
            <td className="num">
              <Num of="MovedFigure.after">{row.after == null ? "—" : fixed(row.after, row.decimals)}</Num>{" "}
              <span className="quiet">{row.unit}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Fits({ change }: { change: Change }) {
  if (change.fits.length === 0) return null;
  return (
    <ul className="plain-list" aria-label={terms.targetsInTheFieldBeforeAnd}>
      {change.fits.map((fit) => (
        <li key={fit.target}>
          <Mark verdict={fit.verdict} size={11} /> {fit.target}{" "}
          <span className="num">
            {fit.before ? <Says text={fit.before} /> : "—"} → {fit.after ? <Says text={fit.after} /> : "—"}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Moved({ change }: { change: Change }) {
  if (change.moved.length === 0) {
    const fits = change.fits.length > 0;
    return <p className="quiet">{fits ? terms.noVerdictChangesButHowTargets : terms.noVerdictChanges}</p>;
  }
  return (
    <ul data-testid="schools" className="schools">
      {change.moved.map((one) => (
        <li key={`${one.code}${one.subject}`}>
          {one.before ? <Mark verdict={one.before} size={11} /> : "·"} →{" "}
          {one.after ? <Mark verdict={one.after} size={11} /> : terms.gone} {one.code} {one.title}
          {one.subject && <span className="quiet"> · {one.subject}</span>}
        </li>
      ))}
    </ul>
  );
}
