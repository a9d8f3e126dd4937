import { inLanguage } from "./language";
import words from "./running.json";

export const terms = inLanguage("running", words);
