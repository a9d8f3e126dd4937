import { terms } from "../../terms/proof";
import { step } from "../step";

export default step("proof", () => import("./Proof"), [[terms.onAFrame, terms.theFrameBeforeAfter]]);
