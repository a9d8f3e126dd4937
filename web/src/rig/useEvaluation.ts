import { useEffect, useState } from "react";
import { api, dataAs, words } from "../api/client";
import type { EvaluationAnswer, Rig } from "../api/types";
import { useLatest } from "../drawing/useLatest";

/** Figures, findings and light strip of the rig as it is drawn, saved or not. */
export function useEvaluation(rig: Rig | null, again: unknown) {
  const [answer, setAnswer] = useState<EvaluationAnswer | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const ask = useLatest(
    async (given: Rig) => {
      try {
        return await dataAs<EvaluationAnswer>(api.POST("/api/v1/evaluate", { body: { rig: given } }));
      } catch (error) {
        setFault(words(error));
        throw error;
      }
    },
    (result) => {
      setFault(null);
      setAnswer(result);
    },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed practice asks again for the same rig
  useEffect(() => {
    if (rig) void ask(rig);
  }, [rig, ask, again]);
  return { answer, fault };
}
