import { terms } from "../../terms/expose";
import { step } from "../step";

export default step(
  "expose",
  () => import("./Expose"),
  [
    [terms.onTheSub, terms.shorterLongerToTheNextRound],
    [terms.onABlockOfThePlan, terms.movesItBeforeOrAfterIts],
  ],
  true,
);
