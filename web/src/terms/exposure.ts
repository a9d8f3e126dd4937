import words from "./exposure.json";
import { inLanguage } from "./language";

export const terms = inLanguage("exposure", words);
