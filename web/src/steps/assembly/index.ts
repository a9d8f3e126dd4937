import { terms } from "../../terms/assembly";
import { step } from "../step";

export default step("assembly", () => import("./Assembly"), [
  ["n", terms.thisCardIsDone],
  ["b", terms.backTheCardBeforeIsNot],
  [terms.inTheList, terms.theCardBeforeAfter],
]);
