import { terms } from "../../terms/aim";
import { step } from "../step";

export default step(
  "aim",
  () => import("./Aim"),
  [
    [terms.onTheFootprint, terms.moveItByATwentiethOf],
    ["[ ]", terms.turnItBy1WithShift],
    [terms.shiftAndWheel, terms.turnTheFootprint],
    ["+ −", terms.closerWider],
    ["0", terms.centreTheFootprintOnTheTarget],
    [terms.arrowsOnAnEndOfThe, terms.growOrShrinkItByA],
  ],
  true,
);
