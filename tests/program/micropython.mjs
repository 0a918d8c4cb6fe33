// Runs MicroPython source in the real interpreter. One JSON request a line in ({"files": {path: text}} or {"run": code}),
// one JSON answer a line out ({"text": what was printed} or {"error": the traceback}).
import { createInterface } from "node:readline";
import { createRequire } from "node:module";
import { pathToFileURL } from "node:url";

const from = createRequire(new URL("../../web/package.json", import.meta.url));
const { loadMicroPython } = await import(
  pathToFileURL(from.resolve("@micropython/micropython-webassembly-pyscript/micropython.mjs")).href
);
let text = "";
const mp = await loadMicroPython({ heapsize: 4 << 20, linebuffer: true, stdout: (line) => (text += line + "\n") });

for await (const line of createInterface({ input: process.stdin })) {
  const asked = JSON.parse(line);
  const answer = {};
  try {
    for (const [path, body] of Object.entries(asked.files ?? {})) mp.FS.writeFile(path, body);
    if (asked.run) mp.runPython(asked.run);
    answer.text = text;
  } catch (error) {
    answer.error = `${text}${error.message}`;
  }
  text = "";
  process.stdout.write(JSON.stringify(answer) + "\n");
}
