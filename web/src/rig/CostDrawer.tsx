/** What a rig costs, and the shopping list with the parts that cure what breaks. */

import { useQuery } from "@tanstack/react-query";
import { Checkbox, Drawer } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { Cost } from "../api/types";
import { moneyWords } from "../growth/money";
import { Num } from "../kit/Calculated";
import { fixed } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
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
  const [warnings, setWarnings] = useState(false);
  const answer = useQuery({
    queryKey: ["cost", rigId, revision, warnings],
    queryFn: () =>
      data(
        api.GET("/api/v1/rigs/{rig_id}/cost", { params: { path: { rig_id: rigId }, query: { warnings } } }),
      ) as Promise<Cost>,
    placeholderData: (before) => before,
  });
  const cost = answer.data;
  return (
    <Drawer open title={terms.costAndShoppingList} onClose={close} size={470}>
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {cost && (
        <div className="cost">
          <dl>
            <div>
              <dt>{terms.ownedOrBorrowed}</dt>
              <dd className="num">
                <Num of="Cost.owned">{moneyWords(cost.owned)}</Num>
              </dd>
            </div>
            <div>
              <dt>{terms.wishedInTheRig}</dt>
              <dd className="num">
                <Num of="Cost.wished">{moneyWords(cost.wished)}</Num>
              </dd>
            </div>
            {cost.second_hand.length > 0 && (
              <div>
                <dt>{terms.ofItSecondHand}</dt>
                <dd className="num">
                  <Num of="Cost.second_hand">{moneyWords(cost.second_hand)}</Num>
                </dd>
              </div>
            )}
          </dl>
          <p className="quiet">
            <Phrase
              of={terms.partsPartsUnpricedX}
              with={{
                parts: cost.parts,
                unpriced:
                  cost.unpriced > 0 && phrase(terms.unpricedOfThemWithoutAPrice, { unpriced: cost.unpriced }),
                x: cost.mixed && terms.severalCurrenciesStandSideBySide,
              }}
            />
          </p>
          <h3>{terms.toBuy}</h3>
          <Checkbox checked={warnings} onChange={(event) => setWarnings(event.target.checked)}>
            {terms.alsoWhatWouldEaseStrains}
          </Checkbox>
          {cost.shopping.length === 0 ? (
            <p>{terms.nothingEveryPartIsThereAnd}</p>
          ) : (
            <>
              <table data-testid="plain-table" className="plain-table">
                <tbody>
                  {cost.shopping.map((line) => (
                    <tr key={`${line.name}-${line.why.text}`}>
                      <th scope="row">
                        {line.name} <span className="quiet">{kindName(line.kind as never)}</span>
                      </th>
                      <td>
                        <Says text={line.why} />
                      </td>
                      <td className="num">
                        <Num of="CostLine.amount">
                          {line.amount == null ? terms.noPrice : `${fixed(line.amount, 0)} ${line.currency}`}
                        </Num>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              <p>
                <Phrase
                  of={terms.togetherShoppingTotalShoppingUnpricedA}
                  with={{
                    shopping_total: (
                      <strong className="num">
                        <Num of="Cost.shopping_total">{moneyWords(cost.shopping_total)}</Num>
                      </strong>
                    ),
                    shopping_unpriced: cost.shopping_unpriced > 0 && (
                      <span className="quiet">
                        {" "}
                        <Phrase
                          of={terms.andShoppingUnpricedWithoutAPrice}
                          with={{ shopping_unpriced: cost.shopping_unpriced }}
                        />
                      </span>
                    ),
                    a: (
                      <a
                        className="link"
                        href={`/api/v1/rigs/${rigId}/shopping.csv${warnings ? "?warnings=true" : ""}`}
                        download
                      >
                        {common.csv}
                      </a>
                    ),
                  }}
                />
              </p>
            </>
          )}
        </div>
      )}
    </Drawer>
  );
}
