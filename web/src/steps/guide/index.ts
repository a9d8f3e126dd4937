import { step } from "../step";

export default step("guide", () => import("./Guide"));
