/** Ticks of cards: kept on this device at once, delivered when the server answers, never dropped. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, data, Refused, words } from "../../api/client";
import type { BuildState, BuildTick } from "../../api/types";

const RETRY_MS = 4000;
const keyOf = (rigId: string) => `dravel.ticks.${rigId}`;
const DEVICE = "dravel.device";

function waitingOf(rigId: string): BuildTick[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(rigId)) ?? "[]");
    return Array.isArray(kept) ? (kept as BuildTick[]) : [];
  } catch {
    return [];
  }
}

/** A name for this device, so that ticks from two can be told apart. */
function device(): string {
  const kept = localStorage.getItem(DEVICE);
  if (kept) return kept;
  const made = `device ${crypto.getRandomValues(new Uint16Array(1))[0]?.toString(36) ?? "1"}`;
  localStorage.setItem(DEVICE, made);
  return made;
}

const fresh = () =>
  [...crypto.getRandomValues(new Uint32Array(4))].map((one) => one.toString(16).padStart(8, "0")).join("");

export function useTicks(rigId: string) {
  const client = useQueryClient();
  const state = useQuery({
    queryKey: ["build", rigId],
    queryFn: () => data(api.GET("/api/v1/rigs/{rig_id}/build", { params: { path: { rig_id: rigId } } })),
    refetchInterval: 15_000,
  });
  const [waiting, setWaiting] = useState(() => waitingOf(rigId));
  const [fault, setFault] = useState("");
  const sending = useRef(false);
  const keep = useCallback(
    (ticks: BuildTick[]) => {
      localStorage.setItem(keyOf(rigId), JSON.stringify(ticks));
      setWaiting(ticks);
    },
    [rigId],
  );
  const deliver = useCallback(async () => {
    const ticks = waitingOf(rigId);
    if (ticks.length === 0 || sending.current) return;
    sending.current = true;
    try {
      const answer = await data(
        api.POST("/api/v1/rigs/{rig_id}/build/ticks", {
          params: { path: { rig_id: rigId } },
          body: { ticks },
        }),
      );
      const there = new Set(ticks.map((tick) => tick.id));
      client.setQueryData(["build", rigId], answer);
      keep(waitingOf(rigId).filter((tick) => !there.has(tick.id)));
      setFault("");
    } catch (error) {
      // A lost connection is waited out; what the server refuses is said, and kept all the same.
      setFault(error instanceof Refused && error.status !== 0 ? words(error) : "");
    } finally {
      sending.current = false;
    }
  }, [client, keep, rigId]);
  useEffect(() => {
    const again = window.setInterval(() => void deliver(), RETRY_MS);
    const online = () => void deliver();
    window.addEventListener("online", online);
    void deliver();
    return () => {
      window.clearInterval(again);
      window.removeEventListener("online", online);
    };
  }, [deliver]);

  const build = state.data?.build ?? waiting[waiting.length - 1]?.build ?? 1;
  const done = doneOf(state.data, waiting, build);
  return {
    build,
    done,
    waiting: waiting.length,
    conflicts: state.data?.conflicts ?? [],
    fault,
    tick: (card: string, isDone: boolean) => {
      keep([
        ...waitingOf(rigId),
        { id: fresh(), build, card, done: isDone, at: new Date().toISOString(), device: device() },
      ]);
      void deliver();
    },
    again: async () => {
      await deliver();
      const answer = await data(
        api.POST("/api/v1/rigs/{rig_id}/build/again", {
          params: { path: { rig_id: rigId } },
          body: { id: fresh() },
        }),
      );
      client.setQueryData(["build", rigId], answer);
    },
  };
}

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
