import { useEffect, useState } from "react";
import { api, dataAs, words } from "../api/client";
import type { EvaluationAnswer, Rig } from "../api/types";
import { useLatest } from "../kit/useLatest";

const HAND_RESTS_MS = 120;

interface Answered {
  rig: Rig;
  answer: EvaluationAnswer;
}

/** Figures, findings and light strip of the rig as it is drawn, saved or not; fixes once the hand rests. */
export function useEvaluation(rigId: string, rig: Rig | null, saved: Rig | null, again: unknown) {
  const [quick, setQuick] = useState<Answered | null>(null);
  const [whole, setWhole] = useState<Answered | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const evaluate = (given: Rig, fixes: boolean) =>
    dataAs<EvaluationAnswer>(
      api.POST("/api/v1/evaluate", { params: { query: { fixes, of: rigId } }, body: { rig: given } }),
    );
  const call = (fixes: boolean) => async (given: Rig) => {
    try {
      const answer = await evaluate(given, fixes);
      setFault(null);
      return answer;
    } catch (error) {
      setFault(words(error));
      // A rig that is refused: what was drawn last stays; where nothing was yet, what is saved is drawn.
      if (quick || !saved || saved === given) throw error;
      return await evaluate(saved, fixes);
    }
  };
  const ask = useLatest(call(false), (answer, given: Rig) => setQuick({ rig: given, answer }));
  const askWhole = useLatest(call(true), (answer, given: Rig) => setWhole({ rig: given, answer }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed preferences asks again for the same rig
  useEffect(() => {
    if (!rig) return;
    setWhole(null);
    void ask(rig);
    const rest = setTimeout(() => void askWhole(rig), HAND_RESTS_MS);
    return () => clearTimeout(rest);
  }, [rig, ask, askWhole, again]);
  const answer = (whole?.rig === rig ? whole : quick)?.answer ?? null;
  return { answer, fault };
}
