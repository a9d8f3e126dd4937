import words from "./common.json";
import { inLanguage } from "./language";

export const terms = inLanguage("common", words);
