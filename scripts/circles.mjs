/** Fails when imports go in a circle. Type-only imports do not count: they are gone at run time. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import ts from 'typescript';
import { root } from './lib/system.mjs';

const files = ['core/src', 'web', 'cli/src'].flatMap((folder) => listed(folder));
const imports = new Map(files.map((file) => [file, importsOf(file)]));

const state = new Map();
const circles = [];
const visit = (file, path) => {
  if (state.get(file) === 'done') return;
  if (state.get(file) === 'open') return void circles.push([...path.slice(path.indexOf(file)), file]);
  state.set(file, 'open');
  for (const next of imports.get(file) ?? []) visit(next, [...path, file]);
  state.set(file, 'done');
};
for (const file of files) visit(file, []);
for (const circle of circles) console.error(`circle: ${circle.map((file) => relative(root, file)).join(' → ')}`);
console.log(`${files.length} files, ${[...imports.values()].flat().length} imports, ${circles.length} circles`);
process.exit(circles.length > 0 || files.length === 0 ? 1 : 0);

function listed(folder) {
  const found = [];
  const { fileNames } = ts.parseJsonConfigFileContent(
    { include: ['**/*'], exclude: ['**/node_modules', '**/.next'] },
    ts.sys,
    join(root, folder),
  );
  for (const name of fileNames) if (!name.endsWith('.d.ts')) found.push(name);
  return found;
}

function importsOf(file) {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest);
  return source.statements.flatMap((statement) => {
    if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) return [];
    if (!statement.moduleSpecifier || isTypeOnly(statement)) return [];
    const target = resolve(file, statement.moduleSpecifier.text);
    return target ? [target] : [];
  });
}

function isTypeOnly(statement) {
  if (ts.isExportDeclaration(statement)) return statement.isTypeOnly;
  const clause = statement.importClause;
  if (!clause) return false;
  if (clause.isTypeOnly) return true;
  const named = clause.namedBindings;
  return (
    !clause.name &&
    named &&
    ts.isNamedImports(named) &&
    named.elements.length > 0 &&
    named.elements.every((element) => element.isTypeOnly)
  );
}

function resolve(from, name) {
  const base = name.startsWith('.')
    ? join(dirname(from), name)
    : name.startsWith('@mesura/core/')
      ? join(root, 'core/src', name.slice(13))
      : null;
  return base ? ['.ts', '.tsx', '/index.ts'].map((end) => base + end).find((path) => existsSync(path)) : null;
}
