// What Murlo is built from: licences, bans, doubled versions, and the list of licences that is shipped. Reads what cargo and npm
// have already brought; asks no network. `write` renews docs/licences.md.
import { execFileSync } from "node:child_process";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/** Licences that may be shipped with an MIT program. */
const ALLOWED = new Set([
  "0BSD", "Apache-2.0", "Apache-2.0 WITH LLVM-exception", "BSD-2-Clause", "BSD-3-Clause", "BSL-1.0", "CC0-1.0", "ISC", "MIT", "MIT-0",
  "OFL-1.1", "Unicode-3.0", "Unlicense", "Zlib",
]);
/** Never among what is built, with the reason. */
const BANNED = new Map([
  ["openssl-sys", "needs a library of the system"],
  ["reqwest", "nothing is fetched at run time"],
  ["tokio-rusqlite", "closes for good after a panic"],
]);
/** Crates that stand in two versions, with those who have not agreed yet. One more is a question. */
const DOUBLED = new Map([
  ["getrandom", "of the cryptography under mail"],
  ["miniz_oxide", "the PNG decoder is a version behind"],
  ["syn", "of macros, while building only"],
]);

const faults = [];
const list = "docs/licences.md";

/** "(MIT OR Apache-2.0) AND Unicode-3.0": whether it can be kept with licences that are allowed. */
function isAllowed(expression) {
  const terms = expression.replaceAll("/", " OR ").split(/\s+AND\s+/);
  return terms.every((term) =>
    term
      .replace(/[()]/g, "")
      .split(/\s+OR\s+/)
      .some((one) => ALLOWED.has(one.trim())),
  );
}

// Rust: what the program itself is built from.
const metadata = JSON.parse(
  execFileSync("cargo", ["metadata", "--locked", "--offline", "--format-version", "1", "--filter-platform", "x86_64-unknown-linux-gnu"], { encoding: "utf8", maxBuffer: 1 << 28 }),
);
const nodes = new Map(metadata.resolve.nodes.map((node) => [node.id, node]));
const packages = new Map(metadata.packages.map((one) => [one.id, one]));
const shipped = new Set();
const walk = (id) => {
  if (shipped.has(id)) return;
  shipped.add(id);
  for (const { pkg, dep_kinds: kinds } of nodes.get(id).deps) if (kinds.some(({ kind }) => kind === null)) walk(pkg);
};
for (const one of metadata.packages) if (one.name === "murlo" && one.source === null) walk(one.id);
// The graph also has what a feature would add if another were on; the tree has only what is built.
const tree = execFileSync("cargo", ["tree", "--locked", "--offline", "-p", "murlo", "-e", "normal", "--prefix", "none", "--target", "x86_64-unknown-linux-gnu"], { encoding: "utf8", maxBuffer: 1 << 28 });
const built = new Set(tree.split("\n").map((line) => line.split(" ").slice(0, 2).join(" ")));
const rust = [...shipped]
  .map((id) => packages.get(id))
  .filter((one) => one.source !== null && built.has(`${one.name} v${one.version}`));
const versions = new Map();
for (const { name, version, license } of rust) {
  versions.set(name, [...(versions.get(name) ?? []), version]);
  if (BANNED.has(name)) faults.push(`${name}: ${BANNED.get(name)}`);
  if (!isAllowed(license ?? "none")) faults.push(`${name} ${version}: its licence is ${license ?? "not said"}`);
}
for (const [name, all] of versions) {
  if (all.length > 1 && !DOUBLED.has(name)) faults.push(`${name} is built in ${all.length} versions: ${all.join(", ")}`);
  if (all.length === 1 && DOUBLED.has(name)) faults.push(`${name} is built in one version only: take it off the list`);
}

// Web: what the bundle may hold.
const lock = JSON.parse(readFileSync("web/package-lock.json", "utf8"));
const web = [];
for (const [path, { version, dev, optional, license }] of Object.entries(lock.packages)) {
  if (path === "" || dev || optional) continue;
  const manifest = join("web", path, "package.json");
  const said = existsSync(manifest) ? JSON.parse(readFileSync(manifest, "utf8")).license : license;
  const name = path.slice(path.lastIndexOf("node_modules/") + "node_modules/".length);
  web.push({ name, version, license: said });
  if (!isAllowed(said ?? "none")) faults.push(`${name} ${version}: its licence is ${said ?? "not said"}`);
}

const rows = (all) =>
  all
    .map(({ name, version, license }) => `| ${name} | ${version} | ${license} |`)
    .sort()
    .join("\n");
const text = `# Licences

Murlo is under the [MIT licence](../LICENSE). What is shipped with it, as its makers license it (\`scripts/check-dependencies write\` renews
the list).

## In the program

| crate | version | licence |
| --- | --- | --- |
${rows(rust)}

## In the web application

| package | version | licence |
| --- | --- | --- |
${rows(web)}
`;
if (process.argv[2] === "write") writeFileSync(list, text);
else if (!existsSync(list) || readFileSync(list, "utf8") !== text) faults.push(`${list} is not what is shipped: run scripts/check-dependencies write`);

for (const fault of faults) console.error(fault);
if (faults.length > 0) process.exit(1);
