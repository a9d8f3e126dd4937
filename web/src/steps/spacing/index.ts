import { step } from "../step";

export default step("spacing", () => import("./Spacing"), [
  ["← → on a block", "mark the part before, the part behind"],
  ["i", "what fits at the joint ahead of the marked part"],
  ["Alt ← →", "move the marked part along the train"],
  ["+ −", "nudge an adjustable part by 0.1 mm"],
  ["Del", "take the marked part out"],
]);
