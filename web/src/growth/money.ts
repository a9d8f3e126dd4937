import type { Sum } from "../api/types";
import { fixed } from "../kit/quantity";

/** "1,240 EUR + 300 USD", or a dash when nothing has a price. */
export function moneyWords(sums: readonly Sum[]): string {
  if (sums.length === 0) return "—";
  return sums.map((sum) => `${fixed(sum.amount, 0)} ${sum.currency}`).join(" + ");
}
