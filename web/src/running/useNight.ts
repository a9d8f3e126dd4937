/** The night that runs: told by the server whenever it changes, asked for where that fails; marks kept here until delivered. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { api, data, dataAs } from "../api/client";
import type { MarkGiven, NightState, SessionKept } from "../api/types";
import { useOutbox } from "../kept/useOutbox";
import { device, freshId } from "../kit/device";
import { terms } from "../terms/running";

const KEY = ["running"];
const MARKS = "marks";
const POLL_MS = 4000;
const IDLE_MS = 15_000;

interface Kept extends MarkGiven {
  night: string;
}

export function useNight({ keen = false } = {}) {
  const client = useQueryClient();
  const [live, setLive] = useState(false);
  const query = useQuery({
    queryKey: KEY,
    queryFn: () => dataAs<NightState>(api.GET("/api/v1/night")),
    networkMode: "always", // a lost connection is to be seen, not waited out in silence
    refetchInterval: (asked) =>
      asked.state.data?.running ? (live ? IDLE_MS : POLL_MS) : keen ? POLL_MS : IDLE_MS,
  });
  const running = query.data?.running ?? false;
  useEffect(() => {
    if (!running) return;
    const source = new EventSource("/api/v1/night/events");
    source.onopen = () => setLive(true);
    source.onerror = () => {
      setLive(false);
      void client.invalidateQueries({ queryKey: KEY });
    };
    source.onmessage = () => void client.invalidateQueries({ queryKey: KEY });
    return () => {
      source.close();
      setLive(false);
    };
  }, [client, running]);
  const keep = useCallback((state: NightState) => client.setQueryData(KEY, state), [client]);
  const { waiting, fault, put, refusals } = useOutbox<Kept>(MARKS, async (marks) => {
    for (const night of new Set(marks.map((one) => one.night))) {
      const body = {
        night,
        marks: marks.filter((one) => one.night === night).map(({ night: _, ...one }) => one),
      };
      keep(await dataAs<NightState>(api.POST("/api/v1/night/marks", { body })));
    }
  });
  return {
    state: query.data,
    connected: !query.isError,
    waiting,
    fault,
    refusals,
    mark: (kind: MarkGiven["kind"], rig: string, step: string) => {
      if (!query.data) return;
      put({
        id: freshId(),
        night: query.data.id,
        kind,
        rig,
        step,
        at: new Date().toISOString(),
        device: device(),
      });
    },
    begin: async (asked: unknown, rehearsal: unknown) => {
      const body = { id: freshId(), asked, rehearsal } as never;
      keep(await dataAs<NightState>(api.POST("/api/v1/night", { body })));
    },
    hurry: async (speed: number, to?: number) => {
      const night = query.data?.id ?? "";
      keep(
        await dataAs<NightState>(
          api.POST("/api/v1/night/speed", { body: { night, speed, to_s: to ?? null } }),
        ),
      );
    },
    end: async () => {
      const ended = await data(api.POST("/api/v1/night/end", { body: { night: query.data?.id ?? "" } }));
      await client.invalidateQueries({ queryKey: KEY });
      await client.invalidateQueries({ queryKey: ["sessions"] });
      return (ended.sessions ?? []) as SessionKept[];
    },
  };
}

const MARK_WORDS: Record<MarkGiven["kind"], string> = {
  done: terms.stepDone,
  skip: terms.stepLeftOut,
  clouds: "clouds",
  clear: terms.clearAgain,
};

/** A mark in words, for when it could not be delivered. */
export const markNamed = (mark: MarkGiven) =>
  `${MARK_WORDS[mark.kind]}, ${new Date(mark.at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;

export type RunningNight = ReturnType<typeof useNight>;
