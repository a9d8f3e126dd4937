import { inLanguage } from "./language";
import words from "./power.json";

export const terms = inLanguage("power", words);
