import { inLanguage } from "./language";
import words from "./rulebook.json";

export const terms = inLanguage("rulebook", words);
