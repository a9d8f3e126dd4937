import words from "./guide.json";
import { inLanguage } from "./language";

export const terms = inLanguage("guide", words);
