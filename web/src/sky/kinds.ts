import type { TargetKind } from "../api/types";

export const KINDS: readonly TargetKind[] = [
  "emission",
  "reflection",
  "dark",
  "galaxy",
  "open_cluster",
  "globular",
  "planetary",
  "supernova_remnant",
  "mixed",
  "other",
];
