import { useEffect, useState } from "react";
import { api, dataAs } from "../../api/client";
import type { Rig, SpacingView } from "../../api/types";
import { useLatest } from "../../drawing/useLatest";

/** The train of a rig as it is drawn, saved or not. */
export function useSpacing(rig: Rig): SpacingView | null {
  const [view, setView] = useState<SpacingView | null>(null);
  const ask = useLatest(
    (given: Rig) => dataAs<SpacingView>(api.POST("/api/v1/spacing", { body: { rig: given } })),
    setView,
  );
  useEffect(() => {
    void ask(rig);
  }, [rig, ask]);
  return view;
}
