/** A first stage for today's money towards a rig that is wanted later. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Designed, Staged } from "../api/types";
import { Num } from "../kit/Calculated";
import { QuantityInput } from "../kit/QuantityInput";
import { terms } from "../terms/begin";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { moneyOf, type RigRequest } from "./request";

const MOST = 10_000_000;

export function InStages({ designed, request }: { designed: Designed; request: RigRequest }) {
  const [today, setToday] = useState<number | null>(Math.round(designed.scores.money / 2));
  const client = useQueryClient();
  const navigate = useNavigate();
  const currency = request.currency ?? "EUR";
  const answer = useQuery({
    queryKey: ["staged", request, designed.row, today],
    queryFn: () =>
      dataAs<Staged>(
        api.POST("/api/v1/design/stages", {
          body: { ...request, row: designed.row, today: today ?? 0 } as never,
        }),
      ),
    enabled: today !== null,
    placeholderData: (before) => before,
  });
  const staged = answer.error ? undefined : answer.data;
  const keep = useMutation({
    mutationFn: async (both: Staged) => {
      const first = await data(api.POST("/api/v1/rigs", { body: { rig: both.today.rig } }));
      const then = await data(api.POST("/api/v1/rigs", { body: { rig: both.later.rig } }));
      const stages = [
        { title: terms.now, rig: first.id },
        { title: common.later, rig: then.id },
      ];
      return data(api.POST("/api/v1/growths", { body: { name: both.later.name, stages, notes: "" } }));
    },
    onSuccess: async () => {
      await client.invalidateQueries();
      navigate("/upgrade-path");
    },
  });
  return (
    <div className="in-stages">
      <QuantityInput
        label={terms.moneyToday}
        unit=""
        low={0}
        high={MOST}
        value={today}
        onChange={(next, valid) => valid && setToday(next)}
      />
      {answer.error && (
        <p className="fault" role="alert">
          {words(answer.error)}
        </p>
      )}
      {staged && (
        <>
          <p>
            <Phrase
              of={terms.strongTheTodayForTodayCosts}
              with={{
                strong: <strong>{terms.now}</strong>,
                today: staged.today.name,
                today_costs: <Num of="Staged.today_costs">{moneyOf(staged.today_costs, currency)}</Num>,
                fit: Math.round(staged.today.scores.fit * 100),
                survives: <Num of="Staged.survives">{moneyOf(staged.survives, currency)}</Num>,
                kept: staged.kept.length > 0 && ` (${staged.kept.join(", ")})`,
                lost: (
                  <Num of="Staged.lost">
                    {staged.lost > 0 &&
                      phrase(terms.lostDoNotGone, {
                        lost: moneyOf(staged.lost, currency),
                        gone: staged.gone.join(", "),
                      })}
                  </Num>
                ),
              }}
            />
          </p>
          <p>
            <Phrase
              of={terms.strongLaterCostsMoreTotalIn}
              with={{
                strong: <strong>{common.later}</strong>,
                later_costs: <Num of="Staged.later_costs">{moneyOf(staged.later_costs, currency)}</Num>,
                total: <Num of="Staged.total">{moneyOf(staged.total, currency)}</Num>,
                money: (
                  <Num of="Scores.money">
                    {staged.lost > 0 &&
                      phrase(terms.againstMoneyAtOnce, { money: moneyOf(designed.scores.money, currency) })}
                  </Num>
                ),
              }}
            />
          </p>
          <Button size="small" loading={keep.isPending} onClick={() => keep.mutate(staged)}>
            {terms.keepBothAsAPath}
          </Button>
          {keep.error && <p className="fault">{words(keep.error)}</p>}
        </>
      )}
    </div>
  );
}
