import { terms } from "../../terms/mount";
import { step } from "../step";

export default step("mount", () => import("./Mount"), [
  [terms.onTheTube, terms.slideItInTheSaddleBy],
  [terms.onAWeight, terms.slideItOnTheShaft],
  [terms.arrowsOnARider, terms.moveItAlongAndOffThe],
]);
