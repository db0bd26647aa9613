import ini from "ini";
import { readStatements } from "@/core/idiom";
import { language, LANGUAGES } from "../support/languages";
const only = process.argv[2];
for (const { name, idiom, text } of LANGUAGES.map(language)) {
  if (only && name !== only) continue;
  const whole = `${text}\n`.repeat(40);
  const n = whole.split("\n").length;
  const t = (f: () => unknown, k: number) => { const ts: number[] = []; for (let i = 0; i < k; i++) { const s = performance.now(); f(); ts.push(performance.now() - s); } ts.sort((a,b)=>a-b); return ts[k >> 1]!; };
  const k = Number(process.argv[3] ?? 60);
  t(() => readStatements(whole, idiom), 20); t(() => ini.parse(whole), 20);
  const a = t(() => readStatements(whole, idiom), k), b = t(() => ini.parse(whole), k);
  console.log(name, n, "lines", (a / n * 1e6).toFixed(0), "ns/line; ini", (b / n * 1e6).toFixed(0), (a / b).toFixed(2));
}
