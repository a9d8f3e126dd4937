/** The steps that have a picture of their own. Their order, titles and rules come from the server. */
import aim from "./aim";
import build from "./build";
import expose from "./expose";
import glass from "./glass";
import guide from "./guide";
import load from "./load";
import night from "./night";
import power from "./power";
import proof from "./proof";
import spacing from "./spacing";
import type { Step } from "./step";

export const STEPS: readonly Step[] = [aim, glass, spacing, load, guide, power, expose, build, night, proof];
