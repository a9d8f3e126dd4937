import words from "./frames.json";
import { inLanguage } from "./language";

export const terms = inLanguage("frames", words);
