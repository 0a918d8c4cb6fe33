/** Hands a text to the user as a file. */
export function saveFile(name: string, text: string, type = "application/json") {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name.replaceAll(/[/\\:*?"<>|]/g, "-");
  link.click();
  URL.revokeObjectURL(link.href);
}
