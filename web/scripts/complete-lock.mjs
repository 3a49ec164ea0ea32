// Registries may lack optional packages of other platforms; npm leaves them out of the lock file and `npm ci` then refuses
// it. This adds a stub for each, which is never installed here. Run it after every change of the lock file.
import { readFileSync, writeFileSync } from "node:fs";

const path = new URL("../package-lock.json", import.meta.url);
const lock = JSON.parse(readFileSync(path, "utf8"));
for (const [place, entry] of Object.entries({ ...lock.packages })) {
  for (const [name, version] of Object.entries(entry.optionalDependencies ?? {})) {
    const nested = `${place}/node_modules/${name}`;
    const top = `node_modules/${name}`;
    if (!lock.packages[nested] && !lock.packages[top]) {
      lock.packages[top] = { version: version.replace(/^[^\d]*/, ""), optional: true, os: ["none"] };
    }
  }
}
lock.packages = Object.fromEntries(Object.entries(lock.packages).sort(([a], [b]) => (a < b ? -1 : 1)));
writeFileSync(path, `${JSON.stringify(lock, null, 2)}\n`);
