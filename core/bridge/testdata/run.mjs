// Reads lines of [name, json] and prints what the WebAssembly core answers to each.
import { readFileSync } from "node:fs";
import { createInterface } from "node:readline";

const [exec, wasm] = process.argv.slice(2);
(0, eval)(readFileSync(exec, "utf8"));
const go = new globalThis.Go();
const { instance } = await WebAssembly.instantiate(readFileSync(wasm), go.importObject);
go.run(instance);
for await (const line of createInterface({ input: process.stdin })) {
  const [name, json] = JSON.parse(line);
  process.stdout.write(`${globalThis.iterCore(name, json)}\n`);
}
process.stdout.write("", () => process.exit(0));
