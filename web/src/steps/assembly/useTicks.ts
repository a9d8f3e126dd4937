/** Ticks of cards: kept on this device at once, delivered when the server answers, never dropped. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import type { BuildState, BuildTick } from "../../api/types";
import { useOutbox } from "../../kept/useOutbox";
import { device, freshId } from "../../kit/device";
import { terms } from "../../terms/assembly";
import { terms as common } from "../../terms/common";
import { phrase } from "../../terms/phrase";

export function useTicks(rigId: string) {
  const client = useQueryClient();
  const params = { path: { rig_id: rigId } };
  const state = useQuery({
    queryKey: ["build", rigId],
    queryFn: () => data(api.GET("/api/v1/rigs/{rig_id}/assembly", { params })),
    refetchInterval: 15_000,
  });
  const { waiting, fault, put, deliver, refusals } = useOutbox<BuildTick>(`ticks.${rigId}`, async (ticks) => {
    const answer = await data(api.POST("/api/v1/rigs/{rig_id}/assembly/ticks", { params, body: { ticks } }));
    client.setQueryData(["build", rigId], answer);
  });
  const build = state.data?.build ?? waiting[waiting.length - 1]?.build ?? 1;
  return {
    build,
    done: doneOf(state.data, waiting, build),
    waiting: waiting.length,
    conflicts: state.data?.conflicts ?? [],
    fault,
    refusals,
    tick: (card: string, isDone: boolean) =>
      put({ id: freshId(), build, card, done: isDone, at: new Date().toISOString(), device: device() }),
    again: async () => {
      await deliver();
      const answer = await data(
        api.POST("/api/v1/rigs/{rig_id}/assembly/again", { params, body: { id: freshId() } }),
      );
      client.setQueryData(["build", rigId], answer);
    },
  };
}

/** A tick in words, for when it could not be delivered. */
export const tickNamed = (tick: BuildTick, title: string) =>
  phrase(terms.whichOfTitle, { which: tick.done === false ? terms.untick : common.tick, title });

/** Cards done: as the server knows, and as this device has ticked since. */
function doneOf(state: BuildState | undefined, waiting: readonly BuildTick[], build: number): Set<string> {
  const done = new Set(state?.done);
  for (const tick of waiting) {
    if (tick.build !== build) continue;
    if (tick.done === false) done.delete(tick.card);
    else done.add(tick.card);
  }
  return done;
}
