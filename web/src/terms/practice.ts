import { inLanguage } from "./language";
import words from "./practice.json";

export const terms = inLanguage("practice", words);
