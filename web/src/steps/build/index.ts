import { terms } from "../../terms/build";
import { step } from "../step";

export default step("build", () => import("./Build"), [
  ["n", terms.thisCardIsDone],
  ["b", terms.backTheCardBeforeIsNot],
  [terms.inTheList, terms.theCardBeforeAfter],
]);
