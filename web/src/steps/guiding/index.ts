import { step } from "../step";

export default step("guiding", () => import("./Guiding"));
