const HELD_MS = 60_000;

/** Something made here, or fetched, as a file of the reader's. */
export function saveFile(made: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(made);
  link.download = name;
  link.click();
  // A busy browser reads the address after the click.
  window.setTimeout(() => URL.revokeObjectURL(link.href), HELD_MS);
}
