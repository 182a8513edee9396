import { readFileSync } from "node:fs";
import validator from "gltf-validator";
for (const f of process.argv.slice(2)) {
  const r = await validator.validateBytes(new Uint8Array(readFileSync(f)), { maxIssues: 20 });
  console.log(f, r.issues.numErrors, r.issues.numWarnings, r.issues.numInfos, JSON.stringify(r.issues.messages.slice(0, 8)));
}
