/*
 * Lists the texts that people read, each with where it stands in the code, to be read as a whole:
 *
 *   node scripts/words.mjs            every text, by package and file
 *   node scripts/words.mjs --count    how many there are of each package
 *   node scripts/words.mjs putting    those that hold a word
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';
import { ROOT } from './lib/run.mjs';

const PACKAGES = ['core', 'contract', 'server', 'web'];
const isTested = (path) => /\.test\.tsx?$|\/testing\//.test(path);

/** The sources of a package, without its tests. */
function sourcesIn(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return sourcesIn(path);
    return /\.tsx?$/.test(entry.name) && !isTested(path) ? [path] : [];
  });
}

/** What a literal says; what is filled into a template stands as `…`. */
function textOf(node) {
  if (ts.isJsxText(node)) return node.text.replace(/\s+/g, ' ').trim();
  if (ts.isStringLiteralLike(node)) return node.text;
  if (!ts.isTemplateExpression(node)) return null;
  return node.head.text + node.templateSpans.map(({ literal }) => `…${literal.text}`).join('');
}

/** Attributes whose value is for the program, whatever it looks like. */
const FOR_PROGRAM =
  /^(?:id|key|name|type|role|to|href|as|size|variant|className|mask|transition|animation|grid\w*|template\w*|box\w*|border\w*|font\w*|bg\w*|color|w|h|m[xytbrl]?|p[xytbrl]?|flex\w*|inset\w*|transform|d|viewBox)$/;

/** Whether a literal is a text for people: JSX says so; of others, how they are written. */
function isRead(node, text) {
  if (ts.isJsxText(node)) return /\p{L}/u.test(text);
  const { parent } = node;
  if (ts.isImportDeclaration(parent) || ts.isExportDeclaration(parent)) return false;
  if (ts.isLiteralTypeNode(parent) || ts.isExternalModuleReference(parent)) return false;
  if (ts.isPropertyAssignment(parent) && parent.name === node) return false;
  if (ts.isJsxAttribute(parent) && FOR_PROGRAM.test(parent.name.getText())) return false;
  if (ts.isNewExpression(parent) && parent.expression.getText() === 'Error') return false;
  if (/^\s*(?:SELECT|INSERT|UPDATE|DELETE|WITH|PRAGMA|CREATE|ALTER|DROP)\b/i.test(text))
    return false;
  // A word that begins with a capital, or several words that are no path, name or style.
  if (/^[\p{Lu}‘][\p{Ll}’]+(?:[.?!…]|$)/u.test(text)) return true;
  if (!/\p{L}{2,}\S* \S*\p{L}/u.test(text)) return false;
  return !/[{};]|=>|^\W*[a-z-]+: |var\(|\d(?:px|fr|ms|rem)\b|^[@./#]/.test(text);
}

function textsIn(path) {
  const source = ts.createSourceFile(
    path,
    readFileSync(path, 'utf8'),
    ts.ScriptTarget.Latest,
    true,
  );
  const found = [];
  const look = (node) => {
    const text = textOf(node);
    if (text !== null && isRead(node, text)) {
      const { line } = source.getLineAndCharacterOfPosition(node.getStart());
      found.push({ line: line + 1, text });
    }
    ts.forEachChild(node, look);
  };
  look(source);
  return found;
}

const [asked = ''] = process.argv.slice(2);
let all = 0;
for (const name of PACKAGES) {
  let count = 0;
  for (const path of sourcesIn(join(ROOT, 'packages', name, 'src')).sort()) {
    const texts = textsIn(path).filter(
      ({ text }) => asked.startsWith('--') || text.toLowerCase().includes(asked.toLowerCase()),
    );
    count += texts.length;
    if (asked === '--count' || texts.length === 0) continue;
    console.log(`\n${relative(ROOT, path)}`);
    for (const { line, text } of texts) console.log(`${String(line).padStart(5)}  ${text}`);
  }
  if (asked === '--count') console.log(`${name}  ${count}`);
  all += count;
}
console.log(asked === '--count' ? `all  ${all}` : `\n${all} texts`);
