/** The fortnight ahead: nights across, targets down; how much of its best night each gives a target. */

import { useQuery } from "@tanstack/react-query";
import { api, dataAs, words } from "../api/client";
import type { Ahead as AheadNights } from "../api/types";
import { Num } from "../kit/Calculated";
import { share } from "../kit/quantity";
import { terms as common } from "../terms/common";
import { terms } from "../terms/tonight";

interface Props {
  rigs: readonly string[];
  night: string | null;
  choose: (night: string) => void;
}

export function Ahead({ rigs, night, choose }: Props) {
  const answer = useQuery({
    queryKey: ["ahead", rigs, night],
    queryFn: () =>
      dataAs<AheadNights>(api.POST("/api/v1/tonight/ahead", { body: { rigs: [...rigs], night, pins: {} } })),
  });
  if (answer.error) return <p className="fault">{words(answer.error)}</p>;
  if (!answer.data) return <p className="quiet">{terms.lookingAhead}</p>;
  const { nights, rows } = answer.data;
  return (
    <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.theFortnightAhead}>
      <table data-testid="ahead" className="plain-table ahead">
        <thead>
          <tr>
            <th scope="col">{common.target}</th>
            {nights.map((one) => (
              <th key={one.day} scope="col">
                <button type="button" className="link" title={one.words.text} onClick={() => choose(one.day)}>
                  {one.day.slice(8)}.
                </button>
                <span className="quiet num">
                  <Num of="AheadNight.lit">{share(one.lit)}</Num>
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={`${row.rig_id} ${row.target}`}>
              <th scope="row">
                {row.name} <span className="quiet">{row.rig}</span>
              </th>
              {row.cells.map((cell, i) => (
                <td
                  key={nights[i]?.day}
                  className={`num ${cell.best ? "best-night" : ""}`}
                  title={cell.words.text}
                >
                  <svg viewBox="0 0 20 20" width="20" height="20" role="img" aria-label={cell.words.text}>
                    <rect y={20 - 20 * cell.share} width="20" height={20 * cell.share} />
                  </svg>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
        <caption className="quiet">{terms.barsHowMuchOfItsBest}</caption>
      </table>
    </div>
  );
}
