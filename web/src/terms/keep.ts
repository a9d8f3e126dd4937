import words from "./keep.json";
import { inLanguage } from "./language";

export const terms = inLanguage("keep", words);
