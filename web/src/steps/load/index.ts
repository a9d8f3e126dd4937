import { step } from "../step";

export default step("load", () => import("./Load"), [
  ["← → on the tube", "slide it in the saddle by 1 mm; with Shift by 10"],
  ["↑ ↓ on a weight", "slide it on the shaft"],
  ["arrows on a rider", "move it along and off the tube"],
]);
