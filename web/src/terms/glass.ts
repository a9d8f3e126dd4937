import words from "./glass.json";
import { inLanguage } from "./language";

export const terms = inLanguage("glass", words);
