import words from "./kit.json";
import { inLanguage } from "./language";

export const terms = inLanguage("kit", words);
