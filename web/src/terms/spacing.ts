import { inLanguage } from "./language";
import words from "./spacing.json";

export const terms = inLanguage("spacing", words);
