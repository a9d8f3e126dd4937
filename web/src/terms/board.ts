import words from "./board.json";
import { inLanguage } from "./language";

export const terms = inLanguage("board", words);
