/** A first stage for today's money towards a rig that is wanted later. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Designed, Staged } from "../api/types";
import { QuantityInput } from "../kit/QuantityInput";
import { moneyOf, type Wish } from "./wish";

const MOST = 10_000_000;

export function InStages({ designed, wish }: { designed: Designed; wish: Wish }) {
  const [today, setToday] = useState<number | null>(Math.round(designed.scores.money / 2));
  const client = useQueryClient();
  const navigate = useNavigate();
  const currency = wish.currency ?? "EUR";
  const answer = useQuery({
    queryKey: ["staged", wish, designed.row, today],
    queryFn: () =>
      dataAs<Staged>(
        api.POST("/api/v1/design/stages", {
          body: { ...wish, row: designed.row, today: today ?? 0 } as never,
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
        { title: "Now", rig: first.id },
        { title: "Later", rig: then.id },
      ];
      return data(api.POST("/api/v1/growths", { body: { name: both.later.name, stages, notes: "" } }));
    },
    onSuccess: async () => {
      await client.invalidateQueries();
      navigate("/stages");
    },
  });
  return (
    <div className="in-stages">
      <QuantityInput
        label="Money today"
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
            <strong>Now</strong> the {staged.today.name} for {moneyOf(staged.today_costs, currency)}: it
            frames {Math.round(staged.today.scores.fit * 100)} % of the target-months.{" "}
            {moneyOf(staged.survives, currency)} of it serve on
            {staged.kept.length > 0 && ` (${staged.kept.join(", ")})`}
            {staged.lost > 0 && `; ${moneyOf(staged.lost, currency)} do not (${staged.gone.join(", ")})`}.
          </p>
          <p>
            <strong>Later</strong> {moneyOf(staged.later_costs, currency)} more,{" "}
            {moneyOf(staged.total, currency)} in all
            {staged.lost > 0 && `, against ${moneyOf(designed.scores.money, currency)} at once`}.
          </p>
          <Button size="small" loading={keep.isPending} onClick={() => keep.mutate(staged)}>
            Keep both as a path
          </Button>
          {keep.error && <p className="fault">{words(keep.error)}</p>}
        </>
      )}
    </div>
  );
}
