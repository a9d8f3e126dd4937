import { inLanguage } from "./language";
import words from "./proof.json";

export const terms = inLanguage("proof", words);
