import words from "./growth.json";
import { inLanguage } from "./language";

export const terms = inLanguage("growth", words);
