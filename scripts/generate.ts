/** Writes what is derived from the code: the demo project, the JSON Schema of the project format, the validation report, the list of formulas, the client of the interface for programs. `--check` only compares. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { z } from 'zod';
import { projectFileSchema, writeProject } from '../core/src/formats/project/project';
import { elementSchema } from '../core/src/model/element';
import openapiTS, { astToString } from 'openapi-typescript';
import { openApi } from '../web/server/programs/openapi';
import { demoProject } from './demo';
import { formulasPage } from './formulas';
import { scriptsPage } from './scriptsPage';
import { validationReport } from './validation';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const outputs: Record<string, string> = {
  'demo/sorrel-island.json': writeProject({
    ...demoProject,
    elements: demoProject.elements.map((element) => elementSchema.parse(element)),
  }),
  'docs/formats/project.schema.json': `${JSON.stringify(z.toJSONSchema(projectFileSchema, { io: 'input' }), null, 2)}\n`,
  'docs/validation.md': validationReport(),
  'docs/formulas.md': formulasPage(),
  'docs/scripts.md': scriptsPage(),
  // The client of the tests: types made from the description that programs get.
  'web/server/programs/test/api.d.ts': `/** Made by "npm run generate" from the description for programs. */\n${astToString(await openapiTS(openApi() as never))}`,
};

let stale = 0;
for (const [path, text] of Object.entries(outputs)) {
  const file = join(root, path);
  if (process.argv.includes('--check')) {
    let present = '';
    try {
      present = readFileSync(file, 'utf8');
    } catch {
      // counts as stale below
    }
    if (present !== text) {
      console.error(`${path} is not what the code makes of it: run "npm run generate"`);
      stale++;
    }
    continue;
  }
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, text);
  console.log(`wrote ${path}`);
}
process.exit(stale > 0 ? 1 : 0);
