import { step } from "../step";

export default step("proof", () => import("./Proof"), [["← → on a frame", "the frame before, after"]]);
