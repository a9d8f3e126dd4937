import { step } from "../step";

export default step("build", () => import("./Build"), [
  ["n", "this card is done"],
  ["b", "back: the card before is not done after all"],
  ["↑ ↓ in the list", "the card before, after"],
]);
