import { inLanguage } from "./language";
import words from "./load.json";

export const terms = inLanguage("load", words);
