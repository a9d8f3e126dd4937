import { useEffect, useState } from "react";
import { words } from "../api/client";
import type { Rig } from "../api/types";
import { useLatest } from "../drawing/useLatest";

/** What the server draws of the rig as it is in hand, saved or not; the last drawing stays until the next is there. */
export function useDrawn<T>(rig: Rig, call: (rig: Rig) => Promise<T>, again?: unknown) {
  const [view, setView] = useState<T | null>(null);
  const [fault, setFault] = useState("");
  const ask = useLatest(
    async (given: Rig) => {
      try {
        return await call(given);
      } catch (error) {
        setFault(words(error));
        throw error;
      }
    },
    (answer) => {
      setFault("");
      setView(answer);
    },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: `again` asks anew for the same rig
  useEffect(() => {
    void ask(rig);
  }, [rig, ask, again]);
  return { view, fault, ask };
}
