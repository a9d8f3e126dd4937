import { useCallback, useRef } from "react";

/** Runs an async call for the newest arguments only: while one is under way, later ones replace each other. */
export function useLatest<A, R>(call: (given: A) => Promise<R>, then: (result: R, given: A) => void) {
  const state = useRef<{ busy: boolean; next: A | null }>({ busy: false, next: null });
  const callRef = useRef(call);
  const thenRef = useRef(then);
  callRef.current = call;
  thenRef.current = then;
  return useCallback(async (given: A) => {
    const now = state.current;
    if (now.busy) {
      now.next = given;
      return;
    }
    now.busy = true;
    let wanted: A | null = given;
    while (wanted !== null) {
      const asked: A = wanted;
      now.next = null;
      try {
        const result = await callRef.current(asked);
        if (now.next === null) thenRef.current(result, asked);
      } catch {
        // The caller's own save path reports errors; a lost preview is simply not drawn.
      }
      wanted = now.next;
    }
    now.busy = false;
  }, []);
}
