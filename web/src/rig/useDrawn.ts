import { createContext, useContext, useEffect, useRef, useState } from "react";
import { Refused, words } from "../api/client";
import type { Rig } from "../api/types";
import { useChosenNight } from "../app/night";
import { useLatest } from "../kit/useLatest";

/** The rig as it is saved: drawn where the one in hand is refused and no earlier picture is there. */
export const SavedRig = createContext<Rig | null>(null);

/** What the server draws of the rig as it is in hand, saved or not; the last drawing stays until the next is there. */
export function useDrawn<T>(rig: Rig, call: (rig: Rig) => Promise<T>, again?: unknown) {
  const [view, setView] = useState<T | null>(null);
  const [fault, setFault] = useState("");
  const saved = useContext(SavedRig);
  const { night } = useChosenNight();
  const drawn = useRef(false);
  const ask = useLatest(
    async (given: Rig) => {
      try {
        const answer = await call(given);
        setFault("");
        return answer;
      } catch (error) {
        // That the server does not answer is said once, at the head of the page.
        if (!(error instanceof Refused) || error.status !== 0) setFault(words(error));
        if (drawn.current || !saved || saved === given) throw error;
        return await call(saved);
      }
    },
    (answer) => {
      drawn.current = true;
      setView(answer);
    },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: `again` and another night ask anew for the same rig
  useEffect(() => {
    void ask(rig);
  }, [rig, ask, again, night]);
  return { view, fault, ask };
}
