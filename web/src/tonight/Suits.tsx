/** Which rig for which target on this night, over all rigs; beside it the sizes that no rig frames well. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import { useChosenSite } from "../app/site";
import { Num } from "../kit/Calculated";
import { fixed, hoursWords } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms as common } from "../terms/common";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/tonight";

export function Suits({ night }: { night: string | null }) {
  const [site] = useChosenSite();
  const told = useQuery({
    queryKey: ["suits", site, night],
    queryFn: () => data(api.GET("/api/v1/board/suits", { params: { query: { site } } })),
  });
  if (told.error) return <p className="fault">{words(told.error)}</p>;
  if (!told.data) return <p className="quiet">{terms.lookingAtEveryRig}</p>;
  const { suits, none, gaps } = told.data;
  return (
    <div data-testid="suits">
      <table className="plain-table">
        <thead>
          <tr>
            <th scope="col">{common.target}</th>
            <th scope="col">{common.rig}</th>
            <th scope="col">{common.score}</th>
            <th scope="col">{terms.hours}</th>
            <th scope="col">{terms.inItsFieldAndTheNext}</th>
          </tr>
        </thead>
        <tbody>
          {suits.map((one) => (
            <tr key={one.target_id}>
              <th scope="row">{one.name}</th>
              <td>
                <Link to={`/rigs/${one.rig_id}/aim?target=${encodeURIComponent(one.target_id)}`}>
                  {one.rig}
                </Link>
              </td>
              <td className="num">
                <Num of="TargetSuits.score">{fixed(one.score, 0)}</Num>
              </td>
              <td className="num">
                <Num of="TargetSuits.hours">{hoursWords(one.hours)}</Num>
              </td>
              <td className="quiet num">
                <Says text={one.words} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {none.length > 0 && (
        <p className="quiet">
          <Phrase of={terms.noRigForNoneOnThis} with={{ none: none.join(", ") }} />
        </p>
      )}
      {gaps.map((gap) => (
        <p key={gap.words.text}>
          <Phrase of={terms.gapGap} with={{ gap: <Says text={gap.words} /> }} />
        </p>
      ))}
    </div>
  );
}
