import words from "./app.json";
import { inLanguage } from "./language";

export const terms = inLanguage("app", words);
