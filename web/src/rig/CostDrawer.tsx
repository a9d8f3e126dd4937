/** What a rig costs, and the shopping list with the parts that cure what breaks. */

import { useQuery } from "@tanstack/react-query";
import { Checkbox, Drawer } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { Cost } from "../api/types";
import { moneyWords } from "../growth/money";
import { fixed } from "../kit/quantity";
import { kindName } from "./path";

export function CostDrawer({
  rigId,
  revision,
  close,
}: {
  rigId: string;
  revision: number | undefined;
  close: () => void;
}) {
  const [strains, setStrains] = useState(false);
  const answer = useQuery({
    queryKey: ["cost", rigId, revision, strains],
    queryFn: () =>
      data(
        api.GET("/api/v1/rigs/{rig_id}/cost", { params: { path: { rig_id: rigId }, query: { strains } } }),
      ) as Promise<Cost>,
    placeholderData: (before) => before,
  });
  const cost = answer.data;
  return (
    <Drawer open title="Cost and shopping list" onClose={close} size={470}>
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {cost && (
        <div className="cost">
          <dl>
            <div>
              <dt>owned or borrowed</dt>
              <dd className="num">{moneyWords(cost.owned)}</dd>
            </div>
            <div>
              <dt>wished, in the rig</dt>
              <dd className="num">{moneyWords(cost.wished)}</dd>
            </div>
            {cost.second_hand.length > 0 && (
              <div>
                <dt>of it second-hand</dt>
                <dd className="num">{moneyWords(cost.second_hand)}</dd>
              </div>
            )}
          </dl>
          <p className="quiet">
            {cost.parts} parts
            {cost.unpriced > 0 && `, ${cost.unpriced} of them without a price: the sums are a floor`}
            {cost.mixed && "; several currencies stand side by side, no rate is guessed"}.
          </p>
          <h3>To buy</h3>
          <Checkbox checked={strains} onChange={(event) => setStrains(event.target.checked)}>
            also what would ease strains
          </Checkbox>
          {cost.shopping.length === 0 ? (
            <p>Nothing: every part is there, and nothing breaks that a part on the shelf would cure.</p>
          ) : (
            <>
              <table data-testid="plain-table" className="plain-table">
                <tbody>
                  {cost.shopping.map((line) => (
                    <tr key={`${line.name}-${line.why}`}>
                      <th scope="row">
                        {line.name} <span className="quiet">{kindName(line.kind as never)}</span>
                      </th>
                      <td>{line.why}</td>
                      <td className="num">
                        {line.amount == null ? "no price" : `${fixed(line.amount, 0)} ${line.currency}`}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              <p>
                Together <strong className="num">{moneyWords(cost.shopping_total)}</strong>
                {cost.shopping_unpriced > 0 && (
                  <span className="quiet"> and {cost.shopping_unpriced} without a price</span>
                )}{" "}
                ·{" "}
                <a
                  className="link"
                  href={`/api/v1/rigs/${rigId}/shopping.csv${strains ? "?strains=true" : ""}`}
                  download
                >
                  CSV
                </a>
              </p>
            </>
          )}
        </div>
      )}
    </Drawer>
  );
}
