import { terms } from "../../terms/exposure";
import { step } from "../step";

export default step(
  "exposure",
  () => import("./Exposure"),
  [
    [terms.onTheSub, terms.shorterLongerToTheNextRound],
    [terms.onABlockOfThePlan, terms.movesItBeforeOrAfterIts],
  ],
  true,
);
