import { terms } from "../../terms/glass";
import { step } from "../step";

export default step("glass", () => import("./Glass"), [[terms.onTheFocalLengths, terms.theNextCorrector]]);
