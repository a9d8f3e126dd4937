import words from "./begin.json";
import { inLanguage } from "./language";

export const terms = inLanguage("begin", words);
