/** docs/scripts.md: what scripts can say, and the worked examples, from where they are defined. */
import { scriptExamples } from '../core/src/scripts/examples';
import { usualLimits } from '../core/src/scripts/sandbox';
import { scriptWords } from '../core/src/scripts/words';

const cell = (text: string): string => text.replaceAll('|', '\\|');

export function scriptsPage(): string {
  return [
    '# Scripts',
    '',
    'A script is TypeScript against one project. It is kept in the project and run on the desk (stage *Batch*, *Scripts*), or in the terminal:',
    '',
    '```',
    'mesura script FILE --name NAME',
    'mesura script FILE --run SCRIPT --write OUT',
    '```',
    '',
    `It runs in an interpreter of its own, which reaches nothing but the words below: no files, no network, no page, no other project. It has ${usualLimits.seconds} s of its own and ${usualLimits.megabytes} MB. What it changes is a copy; on the desk the changes are offered as one step, in the terminal \`--write\` keeps them. Types are for the reader: they are left out before it runs, and not checked. Nothing is imported.`,
    '',
    '## Words',
    '',
    '| word | | what |',
    '| --- | --- | --- |',
    ...scriptWords.map(({ name, signature, means }) => `| \`${name}\` | \`${cell(signature)}\` | ${cell(means)} |`),
    '',
    'Studies and their options are those of the terminal, see [The terminal](cli.md); an option of two words is written in one, `--earth-r` as `earthR`. Units are those of the columns and fields: `ik_A` is in amperes.',
    '',
    '## Examples',
    '',
    ...scriptExamples.flatMap(({ name, text }) => [`### ${name}`, '', '```ts', text.trimEnd(), '```', '']),
  ].join('\n');
}
