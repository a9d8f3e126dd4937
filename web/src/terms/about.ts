import words from "./about.json";
import { inLanguage } from "./language";

export const terms = inLanguage("about", words);
