/** What a score is made of: its terms, each with the fact behind it. */

import type { Worth } from "../api/types";
import { terms } from "../terms/kit";
import { Num } from "./Calculated";
import { fixed } from "./quantity";
import { Says } from "./Says";

export function WorthTerms({ worth }: { worth: Worth }) {
  return (
    <>
      <table className="terms">
        <tbody>
          {worth.terms.map((term) => (
            <tr key={term.name}>
              <th scope="row">{term.name}</th>
              <td className="num">
                <Num of="WorthTerm.value">{fixed(term.value, 2)}</Num>
              </td>
              <td className="quiet">
                <Says text={term.words} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">{terms.theScoreIsTheProductOf}</p>
    </>
  );
}
