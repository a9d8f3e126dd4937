import { terms } from "../../terms/load";
import { step } from "../step";

export default step("load", () => import("./Load"), [
  [terms.onTheTube, terms.slideItInTheSaddleBy],
  [terms.onAWeight, terms.slideItOnTheShaft],
  [terms.arrowsOnARider, terms.moveItAlongAndOffThe],
]);
