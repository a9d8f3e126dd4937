import { inLanguage } from "./language";
import words from "./mount.json";

export const terms = inLanguage("mount", words);
