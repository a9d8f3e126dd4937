/** The one or two changes that would help a rig most, for its own targets. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Drawer } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Improvement, Rig } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { fixed } from "../kit/quantity";
import { moneyOf } from "./wish";
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
  const terms = { money, second_hand, steady: false };
  const answer = useQuery({
    queryKey: ["improve", rigId, revision, money, second_hand],
    queryFn: () =>
      dataAs<Improvement>(
        api.POST("/api/v1/design/improve/{rig_id}", {
          params: { path: { rig_id: rigId } },
          body: { terms } as never,
        }),
      ),
    staleTime: 60_000,
    placeholderData: (before) => before,
  });
  const take = useMutation({
    mutationFn: (rig: Rig) =>
      data(api.POST("/api/v1/rigs", { body: { rig: { ...rig, name: `${name}, improved` } } })),
    onSuccess: async (kept) => {
      await client.invalidateQueries();
      close();
      navigate(`/rigs/${kept.id}/glass`);
    },
  });
  const told = answer.data;
  return (
    <Drawer open title={`Improve ${name}`} onClose={close} size={470}>
      <p className="quiet">
        What one or two other parts would do for this rig on its own targets; rings, weights and cables
        follow. Every way is judged by every rule.
      </p>
      <div className="improve-ask">
        <NumberField of="WishTerms.money" value={money} onChange={setMoney} />
        <Checkbox checked={second_hand} onChange={(event) => setSecondHand(event.target.checked)}>
          bought second-hand
        </Checkbox>
      </div>
      {answer.isFetching && <p className="loading">Looking through the shelf…</p>}
      {answer.error && (
        <p className="fault" role="alert">
          {words(answer.error)}
        </p>
      )}
      {told?.words && <p>{told.words}</p>}
      <ol className="improve-ways" aria-label="Ways to improve it">
        {told?.ways.map((way) => (
          <li key={way.designed.row}>
            <strong>{way.changes.join("; ")}</strong>
            <p>
              {way.gains && `${way.gains}. `}
              <span className="quiet">
                {moneyOf(way.designed.scores.money)}, {fixed(way.designed.scores.fit * 100, 0)} % of the
                target-months,{" "}
                {way.designed.strains.length > 0
                  ? `strains: ${way.designed.strains.map((one) => one.code).join(", ")}`
                  : "nothing strains"}
              </span>
            </p>
            <Button size="small" loading={take.isPending} onClick={() => take.mutate(way.designed.rig)}>
              Take it as a new rig
            </Button>
          </li>
        ))}
      </ol>
      {take.error && <p className="fault">{words(take.error)}</p>}
    </Drawer>
  );
}
