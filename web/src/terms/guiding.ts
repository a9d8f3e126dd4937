import words from "./guiding.json";
import { inLanguage } from "./language";

export const terms = inLanguage("guiding", words);
