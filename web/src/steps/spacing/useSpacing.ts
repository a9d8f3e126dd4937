import { api, dataAs } from "../../api/client";
import type { Rig, SpacingView } from "../../api/types";
import { useDrawn } from "../../rig/useDrawn";

/** The train of a rig as it is drawn, saved or not. */
export const useSpacing = (rig: Rig) =>
  useDrawn(rig, (given) => dataAs<SpacingView>(api.POST("/api/v1/spacing", { body: { rig: given } })));
