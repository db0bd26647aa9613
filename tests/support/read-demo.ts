import { writeFileSync } from "node:fs";
import { readBefore } from "../../demo/documents";

writeFileSync(process.argv[2] ?? "", JSON.stringify(readBefore()));
