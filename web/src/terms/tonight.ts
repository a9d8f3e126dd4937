import { inLanguage } from "./language";
import words from "./tonight.json";

export const terms = inLanguage("tonight", words);
