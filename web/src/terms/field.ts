import words from "./field.json";
import { inLanguage } from "./language";

export const terms = inLanguage("field", words);
