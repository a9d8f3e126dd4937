import { inLanguage } from "./language";
import words from "./log.json";

export const terms = inLanguage("log", words);
