/** The steps that have a picture of their own. Their order, titles and rules come from the server. */
import aim from "./aim";
import assembly from "./assembly";
import exposure from "./exposure";
import frames from "./frames";
import guiding from "./guiding";
import mount from "./mount";
import night from "./night";
import optics from "./optics";
import power from "./power";
import spacing from "./spacing";
import type { Step } from "./step";

export const STEPS: readonly Step[] = [
  aim,
  optics,
  spacing,
  mount,
  guiding,
  power,
  exposure,
  assembly,
  night,
  frames,
];
