import { transfer } from "@/api/client";

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

/** Asks the service for a file about a build and hands it to the user. */
export async function fetchFile(path: string, body: object, name: string, type: string) {
  const response = await transfer(path, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
  saveFile(name, await response.text(), type);
}
