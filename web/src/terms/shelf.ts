import { inLanguage } from "./language";
import words from "./shelf.json";

export const terms = inLanguage("shelf", words);
