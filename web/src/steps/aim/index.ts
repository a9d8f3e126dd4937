import { step } from "../step";

export default step(
  "aim",
  () => import("./Aim"),
  [
    ["← ↑ → ↓ on the footprint", "move it by a twentieth of the field; with Shift by a fifth"],
    ["[ ]", "turn it by 1°; with Shift by 10°"],
    ["Shift and wheel on the sky", "turn the footprint"],
    ["+ −", "closer, wider"],
    ["0", "centre the footprint on the target"],
    [
      "arrows on an end of the outline",
      "grow or shrink it by a fiftieth; with Shift by a tenth; [ ] turn it",
    ],
  ],
  true,
);
