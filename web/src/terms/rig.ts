import { inLanguage } from "./language";
import words from "./rig.json";

export const terms = inLanguage("rig", words);
