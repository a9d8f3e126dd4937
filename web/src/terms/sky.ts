import { inLanguage } from "./language";
import words from "./sky.json";

export const terms = inLanguage("sky", words);
