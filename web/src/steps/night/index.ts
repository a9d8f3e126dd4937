import { terms } from "../../terms/night";
import { step } from "../step";

export default step("night", () => import("./Night"), [[terms.onARun, terms.aQuarterOfAnHourEarlier]]);
