import words from "./help.json";
import { inLanguage } from "./language";

export const terms = inLanguage("help", words);
