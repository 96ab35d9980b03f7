// Write the words on every screen to docs/screen-words.md, so that a reader can go through them in one place.
const fs = require("node:fs");
const path = require("node:path");
const root = path.join(__dirname, "..");
const ts = require(path.join(root, "web/node_modules/typescript"));

const SAID = new Set(["label", "title", "placeholder", "aria-label", "empty", "words", "none", "name", "shown", "note"]);
const clean = (text) => text.replace(/\s+/g, " ").trim();
const isSaid = (text) => /\p{L}{2}/u.test(text) && !/^[a-z-]+(:|\[)|^\/|^#|\bpx-|\btext-|\bflex\b|^M[\d ]/.test(text);

/** The words of a template, with … for what is filled in. */
const templateWords = (node) =>
  ts.isTemplateExpression(node)
    ? node.head.text + node.templateSpans.map((span) => `…${span.literal.text}`).join("")
    : node.text;

/** Words in an expression that is shown: literals, and both sides of a choice. */
function shown(node, add) {
  if (!node) return;
  if (ts.isStringLiteralLike(node) || ts.isTemplateExpression(node)) add(templateWords(node));
  else if (ts.isConditionalExpression(node)) [node.whenTrue, node.whenFalse].forEach((part) => shown(part, add));
  else if (ts.isBinaryExpression(node)) [node.left, node.right].forEach((part) => shown(part, add));
  else if (ts.isParenthesizedExpression(node)) shown(node.expression, add);
}

function wordsOf(file) {
  const source = ts.createSourceFile(file, fs.readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found = new Set();
  const add = (text) => isSaid(clean(text)) && found.add(clean(text));
  const walk = (node) => {
    if (ts.isJsxText(node)) add(node.text);
    else if (ts.isJsxAttribute(node) && SAID.has(node.name.getText())) {
      const value = node.initializer;
      if (value && ts.isStringLiteral(value)) add(value.text);
      else if (value && ts.isJsxExpression(value)) shown(value.expression, add);
    } else if (ts.isJsxExpression(node) && !ts.isJsxAttribute(node.parent)) shown(node.expression, add);
    else if (ts.isPropertyAssignment(node) && SAID.has(node.name.getText()) && ts.isStringLiteralLike(node.initializer))
      add(node.initializer.text);
    ts.forEachChild(node, walk);
  };
  walk(source);
  return [...found];
}

function files(folder) {
  return fs
    .readdirSync(folder, { withFileTypes: true })
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) => (entry.isDirectory() ? files(path.join(folder, entry.name)) : [path.join(folder, entry.name)]))
    .filter((file) => file.endsWith(".tsx") && !file.includes(".test."));
}

const parts = [
  "# Words on screen\n\nEvery label, name and sentence of the interface, by the file that shows it. What a choice is called and does " +
    "stands in the records of the core, and in docs/methods; sentences about data are the server's. This page is written by " +
    "`node scripts/screen_words.cjs`.\n",
];
for (const folder of ["app", "stages/intake", "stages/spread", "stages/rescale", "stages/screen", "stages/compare", "stages/relate", "stages/plates", "stages/record", "stages", "ui", "figure", "plot"]) {
  const own = files(path.join(root, "web/src", folder)).filter(
    (file) => folder !== "stages" || path.dirname(file) === path.join(root, "web/src/stages"),
  );
  parts.push(`## ${folder}\n`);
  for (const file of own) {
    const words = wordsOf(file);
    if (words.length > 0)
      parts.push(`**${path.basename(file, ".tsx")}**: ${words.map((text) => text.replace(/([*_`|<>])/g, "\\$1")).join(" · ")}\n`);
  }
}
fs.writeFileSync(path.join(root, "docs/screen-words.md"), parts.join("\n"));
