/** The browser has taken a file by then; its address is of no more use. */
const TAKEN_MS = 60_000;

/** Hands a file to the browser, to be saved with the downloads. */
export function download(file: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), TAKEN_MS);
}

/** The same with a file of the server, under the name that it gives. */
export function downloadFrom(address: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = "";
  link.click();
}

/** A title as a file name: what file systems refuse becomes a blank. */
export function fileName(title: string): string {
  return title.replace(/[\\/:*?"<>|\p{Cc}]+/gu, " ").trim() || "passage";
}
