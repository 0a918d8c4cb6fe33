/** Hands a text to the user as a file. */
export function saveFile(name: string, text: string, type = "application/json") {
  saveBlob(name, new Blob([text], { type }));
}

/** The same of bytes. */
export function saveBlob(name: string, bytes: Blob) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(bytes);
  link.download = name.replaceAll(/[/\\:*?"<>|]/g, "-");
  link.click();
  URL.revokeObjectURL(link.href);
}
