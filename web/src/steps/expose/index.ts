import { step } from "../step";

export default step(
  "expose",
  () => import("./Expose"),
  [
    ["← → on the sub", "shorter, longer, to the next round length; with Shift by a second"],
    ["← → on a block of the plan", "moves it before or after its neighbour"],
  ],
  true,
);
