import { step } from "../step";

export default step("power", () => import("./Power"));
