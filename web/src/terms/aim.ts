import words from "./aim.json";
import { inLanguage } from "./language";

export const terms = inLanguage("aim", words);
