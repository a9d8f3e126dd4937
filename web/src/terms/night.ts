import { inLanguage } from "./language";
import words from "./night.json";

export const terms = inLanguage("night", words);
