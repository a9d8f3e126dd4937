/** What a score is made of: its terms, each with the fact behind it. */

import type { Worth } from "../api/types";
import { fixed } from "./quantity";

export function WorthTerms({ worth }: { worth: Worth }) {
  return (
    <>
      <table className="terms">
        <tbody>
          {worth.terms.map((term) => (
            <tr key={term.name}>
              <th scope="row">{term.name}</th>
              <td className="num">{fixed(term.value, 2)}</td>
              <td className="quiet">{term.words}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">
        The score is the product of the terms, each to its weight: Dravel's own convention.
      </p>
    </>
  );
}
