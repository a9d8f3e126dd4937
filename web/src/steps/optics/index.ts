import { terms } from "../../terms/optics";
import { step } from "../step";

export default step("optics", () => import("./Optics"), [[terms.onTheFocalLengths, terms.theNextCorrector]]);
