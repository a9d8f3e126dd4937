import words from "./api.json";
import { inLanguage } from "./language";

export const terms = inLanguage("api", words);
