/** The one or two changes that would help a rig most, for its own targets. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Drawer } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Improvement, Rig } from "../api/types";
import { Num } from "../kit/Calculated";
import { NumberField } from "../kit/NumberField";
import { fixed } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms } from "../terms/begin";
import { Phrase, phrase } from "../terms/phrase";
import { moneyOf } from "./request";
import "./begin.module.css";

const START_MONEY = 500;

export function Improve({
  rigId,
  name,
  revision,
  close,
}: {
  rigId: string;
  name: string;
  revision: number | undefined;
  close: () => void;
}) {
  const [money, setMoney] = useState<number | null>(START_MONEY);
  const [second_hand, setSecondHand] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  const within = { money, second_hand, steady: false };
  const answer = useQuery({
    queryKey: ["improve", rigId, revision, money, second_hand],
    queryFn: () =>
      dataAs<Improvement>(
        api.POST("/api/v1/design/improve/{rig_id}", {
          params: { path: { rig_id: rigId } },
          body: { terms: within } as never,
        }),
      ),
    staleTime: 60_000,
    placeholderData: (before) => before,
  });
  const take = useMutation({
    mutationFn: (rig: Rig) =>
      data(
        api.POST("/api/v1/rigs", { body: { rig: { ...rig, name: phrase(terms.nameImproved, { name }) } } }),
      ),
    onSuccess: async (kept) => {
      await client.invalidateQueries();
      close();
      navigate(`/rigs/${kept.id}/optics`);
    },
  });
  const told = answer.data;
  return (
    <Drawer open title={phrase(terms.improveName, { name })} onClose={close} size={470}>
      <p className="quiet">{terms.whatOneOrTwoOtherParts}</p>
      <div className="improve-ask">
        <NumberField of="RequestTerms.money" value={money} onChange={setMoney} />
        <Checkbox checked={second_hand} onChange={(event) => setSecondHand(event.target.checked)}>
          {terms.boughtSecondHand}
        </Checkbox>
      </div>
      {answer.isFetching && <p className="loading">{terms.lookingThroughTheShelf}</p>}
      {answer.error && (
        <p className="fault" role="alert">
          {words(answer.error)}
        </p>
      )}
      {told?.words?.text && (
        <p>
          <Says text={told.words} />
        </p>
      )}
      <ol className="improve-ways" aria-label={terms.waysToImproveIt}>
        {told?.ways.map((way) => (
          <li key={way.designed.row}>
            <strong>{way.changes.map((one) => one.text).join("; ")}</strong>
            <p>
              {way.gains.text && (
                <>
                  <Says text={way.gains} />
                  {". "}
                </>
              )}
              <span className="quiet">
                <Phrase
                  of={terms.moneyFitOfTheTargetMonths}
                  with={{
                    money: <Num of="Scores.money">{moneyOf(way.designed.scores.money)}</Num>,
                    fit: <Num of="Scores.fit">{fixed(way.designed.scores.fit * 100, 0)}</Num>,
                    warnings:
                      way.designed.warnings.length > 0
                        ? phrase(terms.warningsWarnings, {
                            warnings: way.designed.warnings.map((one) => one.code).join(", "),
                          })
                        : terms.nothingStrains,
                  }}
                />
              </span>
            </p>
            <Button size="small" loading={take.isPending} onClick={() => take.mutate(way.designed.rig)}>
              {terms.takeItAsANewRig}
            </Button>
          </li>
        ))}
      </ol>
      {take.error && <p className="fault">{words(take.error)}</p>}
    </Drawer>
  );
}
