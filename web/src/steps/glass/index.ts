import { step } from "../step";

export default step("glass", () => import("./Glass"), [["← → on the focal lengths", "the next corrector"]]);
