import { inLanguage } from "./language";
import words from "./optics.json";

export const terms = inLanguage("optics", words);
