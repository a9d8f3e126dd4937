import words from "./build.json";
import { inLanguage } from "./language";

export const terms = inLanguage("build", words);
