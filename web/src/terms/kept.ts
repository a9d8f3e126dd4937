import words from "./kept.json";
import { inLanguage } from "./language";

export const terms = inLanguage("kept", words);
