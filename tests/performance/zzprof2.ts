import { readStatements } from "@/core/idiom";
import { language, LANGUAGES } from "../support/languages";
const only = process.argv[2];
for (const { name, idiom, text } of LANGUAGES.map(language)) {
  if (only && name !== only) continue;
  const whole = `${text}\n`.repeat(40);
  for (let i = 0; i < 1500; i++) readStatements(whole, idiom);
}
