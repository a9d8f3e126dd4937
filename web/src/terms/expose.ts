import words from "./expose.json";
import { inLanguage } from "./language";

export const terms = inLanguage("expose", words);
