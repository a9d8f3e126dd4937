/** Where a pointer is in a picture's own units, however the picture is scaled and letterboxed. */
export function inPicture(
  svg: SVGSVGElement | null,
  { clientX, clientY }: { clientX: number; clientY: number },
): { x: number; y: number } | null {
  const matrix = svg?.getScreenCTM();
  if (!matrix) return null;
  const { x, y } = new DOMPoint(clientX, clientY).matrixTransform(matrix.inverse());
  return { x, y };
}
