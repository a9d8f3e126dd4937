import { terms } from "../../terms/frames";
import { step } from "../step";

export default step("frames", () => import("./Frames"), [[terms.onAFrame, terms.theFrameBeforeAfter]]);
