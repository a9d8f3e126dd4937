import { terms } from "../../terms/spacing";
import { step } from "../step";

export default step("spacing", () => import("./Spacing"), [
  [terms.onABlock, terms.markThePartBeforeThePart],
  ["i", terms.whatFitsAtTheJointAhead],
  ["Alt ← →", terms.moveTheMarkedPartAlongThe],
  ["+ −", terms.nudgeAnAdjustablePartBy0],
  ["Del", terms.takeTheMarkedPartOut],
]);
