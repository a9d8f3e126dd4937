/** Names on a picture that never lie over one another: what would is left out, the first in the list is kept. */
export interface Wanted {
  key: string;
  words: string;
  /** Where the words begin, and their baseline. */
  x: number;
  y: number;
}
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const HIGH = 12;
const AIR = 3;
let pen: CanvasRenderingContext2D | null | undefined;

/** How wide words are as drawn in the smallest type, in the picture's units; a fair guess where nothing draws. */
export function wide(words: string): number {
  if (pen === undefined) {
    pen = typeof document === "undefined" ? null : document.createElement("canvas").getContext("2d");
    if (pen) pen.font = '11px "Atkinson Hyperlegible Next Variable", sans-serif';
  }
  return pen ? pen.measureText(words).width : words.length * 6;
}

export const boxOf = ({ words, x, y }: Wanted): Box => ({
  left: x - AIR,
  top: y - HIGH + 2,
  right: x + wide(words) + AIR,
  bottom: y + AIR,
});

const meet = (one: Box, other: Box) =>
  one.left < other.right && other.left < one.right && one.top < other.bottom && other.top < one.bottom;

/** Those of the wanted names that fit into the picture and beside what is taken, in their order. */
export function placed(wanted: readonly Wanted[], taken: readonly Box[], within: Box): Wanted[] {
  const full = [...taken];
  return wanted.filter((one) => {
    const box = boxOf(one);
    const inside =
      box.left >= within.left &&
      box.right <= within.right &&
      box.top >= within.top &&
      box.bottom <= within.bottom;
    if (!inside || full.some((other) => meet(box, other))) return false;
    full.push(box);
    return true;
  });
}
