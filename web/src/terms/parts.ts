import { inLanguage } from "./language";
import words from "./parts.json";

export const terms = inLanguage("parts", words);
