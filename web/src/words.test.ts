import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";

/** Words that docs/words.md gives another word for; those with a note in brackets are right elsewhere. */
function unwanted(): string[] {
  const table = readFileSync(join(__dirname, "../../docs/words.md"), "utf8");
  const rows = table.split("\n").filter((line) => line.startsWith("| ") && !line.startsWith("| word"));
  const wanted = rows.flatMap((row) => (row.split("|")[1] ?? "").split(",").map((word) => word.trim()));
  const all = rows.flatMap((row) => {
    const cell = row.split("|")[3] ?? "";
    return cell
      .split(/,(?![^(]*\))/)
      .map((word) => word.trim())
      .filter((word) => word !== "" && !word.includes("("));
  });
  // A word of its own may well be the wrong one for something else.
  return all.filter((word) => !wanted.includes(word));
}

/** What people read in a source file of the interface: text between tags, and words in quotes. */
function shown(source: string): string[] {
  const plain = source.replace(/\/\*[\s\S]*?\*\/|^\s*\/\/.*$/gm, "").replace(/^import .*$/gm, "");
  const between = [...plain.matchAll(/>([^<>{}]*[A-Za-z][^<>{}]*)</g)].map((m) => m[1] ?? "");
  const quoted = [...plain.matchAll(/(?:label|title|helperText|hint|text)=?[:{]?\s*"([^"]+)"/g)].map((m) => m[1] ?? "");
  return [...between, ...quoted].filter((text) => !/[=;{}]|\)\s*$/.test(text));
}

const files = readdirSync(__dirname, { recursive: true, encoding: "utf8" }).filter((file) => file.endsWith(".tsx"));

test("the interface uses one word for one thing, as docs/words.md has it", () => {
  const words = unwanted();
  expect(words.length).toBeGreaterThan(10);
  const all = files.flatMap((file) => shown(readFileSync(join(__dirname, file), "utf8")));
  expect(all.length).toBeGreaterThan(300);
  const found = files.flatMap((file) =>
    shown(readFileSync(join(__dirname, file), "utf8")).flatMap((text) =>
      words
        .filter((word) => new RegExp(`\\b${word}\\b`, "i").test(text))
        .map((word) => `${file}: ${word} in “${text}”`),
    ),
  );
  expect(found).toEqual([]);
});

test("no sentence of the interface is longer than 25 words", () => {
  const long = files.flatMap((file) =>
    shown(readFileSync(join(__dirname, file), "utf8"))
      .flatMap((text) => text.split(/[.!?:;](?:\s|$)/))
      .filter((sentence) => sentence.trim().split(/\s+/).length > 25)
      .map((sentence) => `${file}: ${sentence.trim().replace(/\s+/g, " ")}`),
  );
  expect(long).toEqual([]);
});
