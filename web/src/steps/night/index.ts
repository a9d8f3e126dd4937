import { step } from "../step";

export default step("night", () => import("./Night"), [
  ["← → on a run", "a quarter of an hour earlier, later"],
]);
