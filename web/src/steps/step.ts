/** What a step of the work is to the interface: its keys, and the view that is fetched when it is opened. */
import { type ComponentType, type LazyExoticComponent, lazy } from "react";
import type { Evaluation, Finding, Fix, PatchOperation, PathItem, Rig } from "../api/types";

/** What every step's view is handed: the rig in hand, how to change it, and how it is judged. */
export interface StepProps {
  rigId: string;
  rig: Rig;
  evaluation: Evaluation | null;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
  patch: (change: PatchOperation[], note: string) => void;
  changePath: (path: PathItem[], note: string) => void;
  preview: (rig: Rig | null) => void;
  /** Asks for the findings anew: what they hang on beside the rig has changed. */
  judgeAgain: () => void;
  onFix: (finding: Finding, fix: Fix) => void;
  target: string | null;
  setTarget: (id: string) => void;
}

export interface Step {
  key: string;
  view: LazyExoticComponent<ComponentType<StepProps>>;
  /** Keys that work in its view, and what they do. */
  keys: readonly (readonly [keys: string, does: string])[];
  /** It shows one target of the rig, named in the address. */
  aims?: boolean;
}

export const step = (
  key: string,
  load: () => Promise<{ default: ComponentType<StepProps> }>,
  keys: Step["keys"] = [],
  aims = false,
): Step => ({ key, view: lazy(load), keys, aims });
