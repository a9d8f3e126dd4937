/** Which rig a month suits: objects that fit each rig and stand high, month by month, as a share of its best month. */

import { useQuery } from "@tanstack/react-query";
import { api, data, words } from "../api/client";
import { Num } from "../kit/Calculated";
import { share } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms } from "../terms/board";

export function MonthStrip({ site, rigs }: { site: string | null; rigs: string }) {
  const answer = useQuery({
    // Asked again when a rig's field changes.
    queryKey: ["months", site, rigs],
    queryFn: () => data(api.GET("/api/v1/sky/months", { params: { query: { site } } })),
    placeholderData: (before) => before,
  });
  if (answer.error) return <p className="fault">{words(answer.error)}</p>;
  const months = answer.data;
  if (!months || months.rows.length === 0) return null;
  return (
    <section data-testid="months" className="months" aria-label={terms.whichRigAMonthSuits}>
      <h2>{terms.whichRigAMonthSuits}</h2>
      <p className="quiet">{terms.objectsThatFillTheFieldWell}</p>
      <div className="board-scroll" role="region" aria-label={terms.monthsAndRigs} tabIndex={0}>
        <table>
          <thead>
            <tr>
              <th scope="col">
                <span className="quiet">{terms.galaxiesUp}</span>
              </th>
              {months.months.map((month, k) => (
                <th key={month} scope="col">
                  {month.slice(0, 3)}
                  <span className="quiet num">
                    <Num of="Months.galaxy_share">{share(months.galaxy_share[k] ?? 0)}</Num>
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {months.rows.map((row) => {
              const top = Math.max(1, ...row.counts);
              return (
                <tr key={row.rig_id}>
                  <th scope="row">{row.name}</th>
                  {row.counts.map((count, k) => (
                    <td
                      key={months.months[k]}
                      data-suits={months.suits[k] === row.rig_id}
                      className={`num ${months.suits[k] === row.rig_id ? "suits" : ""}`}
                      style={{ "--share": `${Math.round((count / top) * 34)}%` } as React.CSSProperties}
                    >
                      {count}
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {months.words.map((line) => (
        <p key={line.text}>
          <Says text={line} />
        </p>
      ))}
    </section>
  );
}
