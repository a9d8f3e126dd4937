import { useCallback, useMemo, useRef } from "react";
import { useStayWhile } from "./useStayWhile";

/** Saves one after the other, in the order they were asked for; the page is not left unasked while one is under way. */
export function useSaveQueue() {
  const last = useRef<Promise<void>>(Promise.resolve());
  const waiting = useRef(0);
  useStayWhile(() => waiting.current > 0);
  /** Runs a save after those before it; `then` hears whether it failed, and how many are left. */
  const add = useCallback((save: () => Promise<void>, then: (fault: unknown, left: number) => void) => {
    waiting.current += 1;
    last.current = last.current.then(async () => {
      let fault: unknown = null;
      await save().catch((error) => {
        fault = error;
      });
      waiting.current -= 1;
      then(fault, waiting.current);
    });
    return last.current;
  }, []);
  const busy = useCallback(() => waiting.current > 0, []);
  /** When all that was asked for so far has answered. */
  const rest = useCallback(async () => {
    while (waiting.current > 0) await last.current;
  }, []);
  return useMemo(() => ({ add, busy, rest }), [add, busy, rest]);
}
