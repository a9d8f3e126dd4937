import { terms } from "../../terms/aim";
import { step } from "../step";

export default step(
  "aim",
  () => import("./Aim"),
  [
    [terms.onTheFootprint, terms.moveItByATwentiethOf],
    ["[ ]", terms.turnItBy1WithShift],
    ["Shift and wheel on the sky", terms.turnTheFootprint],
    ["+ −", terms.closerWider],
    ["0", terms.centreTheFootprintOnTheTarget],
    [terms.arrowsOnAnEndOfThe, terms.growOrShrinkItByA],
  ],
  true,
);
