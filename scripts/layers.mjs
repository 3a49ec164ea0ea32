// Reads manifests and sources as text and says what breaks the order of the house. Exits 1 when anything does.
import { execFileSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join, normalize } from "node:path";

/** From the ground up: a crate may use those before it only. */
const ORDER = [
  "murlo-base",
  "murlo-chemistry",
  "murlo-brewer",
  "murlo-chalk",
  "murlo-plan",
  "murlo-clean",
  "murlo-visit",
  "murlo-calc",
  "murlo-household",
  "murlo-store",
  "murlo-line",
  "murlo-server",
  "murlo",
  "murlo-lived",
];
/** The crates of the rules: pure functions, so that they run and are tested without a server, a database, a clock or chance. */
const RULES = ORDER.slice(0, ORDER.indexOf("murlo-store"));
const IMPURE = /^(tokio|axum|hyper|rusqlite|reqwest|rand|getrandom) /;
/** The store keeps facts and knows no server. */
const UNSTORED = /^(tokio|axum|hyper) /;
const MOST_LINES = 600;
const MOST_FUNCTION_LINES = 80;

const faults = [];
const run = (command, ...args) => execFileSync(command, args, { encoding: "utf8", maxBuffer: 1 << 26 });

// Crates.
const { packages } = JSON.parse(run("cargo", "metadata", "--locked", "--no-deps", "--format-version", "1"));
for (const { name, dependencies } of packages) {
  const place = ORDER.indexOf(name);
  if (place < 0) faults.push(`${name}: has no place in the order of crates (scripts/layers.mjs)`);
  for (const { name: used } of dependencies) {
    const below = ORDER.indexOf(used);
    if (below > place) faults.push(`${name} uses ${used}, which is above it`);
  }
}
for (const [crates, banned] of [
  [RULES, IMPURE],
  [["murlo-store"], UNSTORED],
]) {
  for (const crate of crates) {
    const tree = run("cargo", "tree", "--locked", "-p", crate, "-e", "normal", "--prefix", "none").split("\n");
    for (const line of new Set(tree.filter((line) => banned.test(line)))) faults.push(`${crate} is built from ${line.trim()}`);
  }
}

// Files.
const isTest = (file) => /(^|\/)(tests|e2e|benches|examples)(\/|\.rs$)|fixtures\.rs$|\.(test|spec)\.tsx?$/.test(file);
const below = (folder) =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? below(path) : [path];
  });

/** Rust without comments, strings and the tests at its end. */
function bare(text) {
  return text
    .replace(/^#\[cfg\(test\)\]\n(?:#\[.*\]\n)*(?:pub(?:\(\w+\))? )?mod \w+ \{[\s\S]*?\n\}\n/gm, "")
    .replace(/\/\/.*$/gm, "")
    .replace(/"(?:[^"\\]|\\[\s\S])*"/g, '""');
}

/** Every path that a `use` tree names, with the name it goes by. */
function named(tree) {
  const found = [];
  const walk = (text, before) => {
    let depth = 0;
    let from = 0;
    const parts = [];
    for (let i = 0; i <= text.length; i++) {
      if (text[i] === "{") depth++;
      if (text[i] === "}") depth--;
      if (i === text.length || (text[i] === "," && depth === 0)) {
        parts.push(text.slice(from, i).trim());
        from = i + 1;
      }
    }
    for (const part of parts.filter(Boolean)) {
      const open = part.indexOf("{");
      if (open < 0) {
        const [path, alias] = part.split(/\s+as\s+/);
        const names = [...before, ...path.split("::").map((name) => name.trim())].filter((name) => name !== "self" || before.length === 0);
        found.push({ path: names, as: alias ?? names.at(-1) });
      } else {
        const head = part.slice(0, open).split("::").map((name) => name.trim()).filter(Boolean);
        walk(part.slice(open + 1, part.lastIndexOf("}")), [...before, ...head]);
      }
    }
  };
  walk(tree.replace(/\s+/g, " "), []);
  return found;
}

/** Circles among `arrows` (from file to the files it imports, each with the names it takes), each with what ties it. */
function circles(arrows) {
  const index = new Map();
  const low = new Map();
  const stack = [];
  const found = [];
  const visit = (at) => {
    index.set(at, index.size);
    low.set(at, index.get(at));
    stack.push(at);
    for (const to of arrows.get(at)?.keys() ?? []) {
      if (!index.has(to)) visit(to);
      if (stack.includes(to)) low.set(at, Math.min(low.get(at), low.get(to)));
    }
    if (low.get(at) === index.get(at)) {
      const circle = stack.splice(stack.indexOf(at));
      if (circle.length > 1) found.push(circle);
    }
  };
  for (const at of arrows.keys()) if (!index.has(at)) visit(at);
  return found.map((circle) => {
    const ties = circle.flatMap((from) =>
      circle.filter((to) => arrows.get(from).has(to)).map((to) => `  ${from} -> ${to}: ${[...arrows.get(from).get(to)].join(", ")}`),
    );
    return `a circle of ${circle.length} files\n${ties.join("\n")}`;
  });
}

/** Notes that `from` takes `name` from `to`. */
function take(arrows, from, to, name) {
  if (to === undefined || to === from) return;
  const names = arrows.get(from);
  if (!names.has(to)) names.set(to, new Set());
  names.get(to).add(name);
}

function circlesOfRust(root) {
  const files = below(root).filter((file) => file.endsWith(".rs") && !isTest(file));
  const moduleOf = new Map(
    files.map((file) => [
      file
        .slice(root.length + 1, -3)
        .split("/")
        .filter((name) => !["lib", "main", "mod"].includes(name))
        .join("::"),
      file,
    ]),
  );
  const modules = new Map();
  for (const [module, file] of moduleOf) {
    const text = bare(readFileSync(file, "utf8"));
    const uses = [...text.matchAll(/^\s*(pub(?:\([^)]*\))? )?use ([^;]+);/gm)].flatMap(([, isPublic, tree]) =>
      named(tree).map((use) => ({ ...use, isPublic: isPublic !== undefined })),
    );
    const paths = [...text.replace(/^\s*(?:pub(?:\([^)]*\))? )?use [^;]+;/gm, "").matchAll(/(?<![\w:])(?:crate|super)(?:::\w+)+/g)];
    const items = new Set([...text.matchAll(/^(?:pub(?:\([^)]*\))? )?(?:const |async |unsafe )*(?:fn|struct|enum|type|trait|static|const|macro_rules!) (\w+)/gm)].map(([, name]) => name));
    const children = [...text.matchAll(/^(?:pub(?:\([^)]*\))? )?mod (\w+);/gm)].map(([, name]) => name);
    const defines = /^(?:pub(?:\([^)]*\))? )?(?:(?:const |async )*fn|struct|enum|type|trait|impl|const|static)\b/m.test(text);
    modules.set(module, { file, uses, paths: paths.map(([path]) => path.split("::")), items, children, defines });
  }
  /** The module and the rest of a path as it stands in `module`; nothing where it leaves the crate. */
  const resolve = (module, path) => {
    let at = module === "" ? [] : module.split("::");
    let rest = [...path];
    if (rest[0] === "crate") [at, rest] = [[], rest.slice(1)];
    else if (rest[0] === "super" || rest[0] === "self") {
      while (rest[0] === "super") [at, rest] = [at.slice(0, -1), rest.slice(1)];
      if (rest[0] === "self") rest = rest.slice(1);
    } else if (!modules.get(module).children.includes(rest[0])) return undefined;
    while (rest.length > 0 && modules.has([...at, rest[0]].join("::"))) [at, rest] = [[...at, rest[0]], rest.slice(1)];
    return { module: at.join("::"), name: rest[0] };
  };
  /** Where a name that is asked of a module is defined: a face hands it on. */
  const definedIn = (module, name, seen = new Set()) => {
    const face = modules.get(module);
    if (face === undefined || name === undefined || face.items.has(name) || seen.has(module)) return module;
    seen.add(module);
    for (const use of face.uses.filter((use) => use.as === name)) {
      const next = resolve(module, use.path);
      if (next !== undefined && next.module !== module) return definedIn(next.module, next.name, seen);
    }
    return module;
  };
  const arrows = new Map(files.map((file) => [file, new Map()]));
  for (const [module, { file, uses, paths, children, defines }] of modules) {
    const handsOn = uses.filter((use) => use.isPublic && resolve(module, use.path) !== undefined);
    if (defines && handsOn.length > 0 && children.length > 0) faults.push(`${file}: hands names on and defines some itself`);
    for (const path of [...uses.filter((use) => !(use.isPublic && !defines)).map((use) => use.path), ...paths]) {
      const to = resolve(module, path);
      if (to === undefined) continue;
      take(arrows, file, moduleOf.get(definedIn(to.module, to.name)), to.name ?? "the module");
    }
  }
  return circles(arrows);
}

function circlesOfWeb(root) {
  const files = below(root).filter((file) => /\.tsx?$/.test(file) && !isTest(file));
  const arrows = new Map(files.map((file) => [file, new Map()]));
  for (const file of files) {
    for (const [, path] of readFileSync(file, "utf8").matchAll(/(?:from|import\()\s*"(\.[^"]*)"/g)) {
      const target = normalize(join(dirname(file), path));
      const found = [`${target}.ts`, `${target}.tsx`, join(target, "index.ts"), target].find((name) => arrows.has(name));
      take(arrows, file, found, "import");
    }
  }
  return circles(arrows);
}

for (const crate of ORDER) for (const circle of circlesOfRust(join("crates", crate, "src"))) faults.push(circle);
for (const circle of circlesOfWeb("web/src")) faults.push(circle);

// Rooms.
const sources = [...ORDER.map((crate) => join("crates", crate)), "web/src", "web/e2e"].filter(existsSync).flatMap(below);
for (const file of sources.filter((name) => /\.(rs|tsx?)$/.test(name) && !name.endsWith("schema.d.ts"))) {
  const lines = readFileSync(file, "utf8").split("\n");
  if (lines.length - 1 > MOST_LINES) faults.push(`${file}: ${lines.length - 1} lines, more than ${MOST_LINES}`);
  if (!file.endsWith(".rs") || isTest(file)) continue;
  const end = lines.indexOf("#[cfg(test)]");
  const body = end < 0 ? lines : lines.slice(0, end);
  body.forEach((line, at) => {
    const head = /^(\s*)(?:pub(?:\([^)]*\))? )?(?:const |async |unsafe )*fn (\w+)/.exec(line);
    if (head === null) return;
    const length = body.slice(at).findIndex((other) => other.startsWith(`${head[1]}}`)) + 1;
    if (length > MOST_FUNCTION_LINES) faults.push(`${file}: ${head[2]} has ${length} lines, more than ${MOST_FUNCTION_LINES}`);
  });
}

// Names: what a reader looks up stands once. A type within a trait's implementation has the trait's name for it.
const TYPE = /^(?:pub(?:\([a-z]+\))? )?(?:struct|enum|union|type|trait) ([A-Z]\w*)/gm;
const defined = new Map();
for (const file of below("crates").filter((file) => /\/src\/.*\.rs$/.test(file) && !isTest(file))) {
  for (const [, name] of bare(readFileSync(file, "utf8")).matchAll(TYPE)) {
    const places = defined.get(name) ?? new Set();
    defined.set(name, places.add(file));
  }
}
for (const [name, places] of defined) {
  if (places.size > 1) faults.push(`${name} is defined in several places: ${[...places].join(", ")}`);
}

for (const fault of faults) console.error(fault);
if (faults.length > 0) {
  console.error(`${faults.length} breaks of the order of the house`);
  process.exit(1);
}
