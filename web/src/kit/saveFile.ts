/** Something made here, or fetched, as a file of the reader's. */
export function saveFile(made: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(made);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
