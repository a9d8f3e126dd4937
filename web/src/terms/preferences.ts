import { inLanguage } from "./language";
import words from "./preferences.json";

export const terms = inLanguage("preferences", words);
