import words from "./assembly.json";
import { inLanguage } from "./language";

export const terms = inLanguage("assembly", words);
