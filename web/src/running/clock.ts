/** The night's own clock on this page: what the server told, carried on by a clock that never jumps. */
import { useCallback, useEffect, useRef, useState } from "react";
import type { NightState } from "../api/types";

/** Seconds from noon at this moment; a function, so that what is drawn often need not be rendered often. */
export function useClock(state: NightState | undefined): () => number {
  const told = useRef({ at: 0, speed: 0, since: 0, ends: 0, version: "" });
  const version = `${state?.id} ${state?.version} ${state?.now}`;
  if (state && told.current.version !== version)
    told.current = {
      at: state.at_s ?? 0,
      speed: state.running ? (state.speed ?? 0) : 0,
      since: performance.now(),
      ends: state.rehearsal ? (state.ends_s ?? 0) : Number.POSITIVE_INFINITY,
      version,
    };
  return useCallback(() => {
    const { at, speed, since, ends } = told.current;
    return Math.min(at + (speed * (performance.now() - since)) / 1000, Math.max(ends, at));
  }, []);
}

/** Renders again whenever what is shown of the clock changes, at most with each picture. */
export function useShown<T>(
  clock: () => number,
  show: (at: number) => T,
  same: (a: T, b: T) => boolean = Object.is,
): T {
  const [shown, setShown] = useState(() => show(clock()));
  const last = useRef(shown);
  const showing = useRef(show);
  showing.current = show;
  useEffect(() => {
    let request = 0;
    const look = () => {
      const next = showing.current(clock());
      if (!same(last.current, next)) {
        last.current = next;
        setShown(next);
      }
      request = requestAnimationFrame(look);
    };
    request = requestAnimationFrame(look);
    return () => cancelAnimationFrame(request);
  }, [clock, same]);
  return shown;
}

/** The clock on the wall at seconds from noon, from the plan's own list of times. */
export function wall(state: NightState, at: number): string {
  const clock = state.plan?.clock ?? [];
  const slot = Math.max(0, Math.min(Math.floor(at / 300), clock.length - 1));
  const [hour = 0, minute = 0] = (clock[slot] ?? "0:0").split(":").map(Number);
  const whole = hour * 60 + minute + Math.floor((at - slot * 300) / 60);
  const two = (value: number) => String(value).padStart(2, "0");
  return `${two(Math.floor(whole / 60) % 24)}:${two(whole % 60)}`;
}
