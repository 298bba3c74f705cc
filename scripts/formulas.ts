/** docs/formulas.md: every formula that can be called alone, with its source, inputs, outputs and example. */
import { inputsOf, type Output, type PublicFormula } from '../core/src/formulary/formula';
import { formulas } from '../core/src/formulary/index';

const withUnit = ({ title, unit }: Output): string => (unit ? `${title} in ${unit}` : title);
const shown = (value: unknown): string =>
  typeof value === 'number' ? String(Number(value.toPrecision(8))) : JSON.stringify(value);

const section = (formula: PublicFormula): string => {
  const { name, title, source, mark, outputs, example } = formula;
  const rows = [
    ...Object.entries(inputsOf(formula)).map(
      ([key, each]) => `| in | \`${key}\` | ${withUnit(each)} | ${shown(example.inputs[key])} |`,
    ),
    ...Object.entries(outputs).map(
      ([key, each]) => `| out | \`${key}\` | ${withUnit(each)} | ${shown(example.outputs[key])} |`,
    ),
  ];
  return [
    `### ${name}`,
    '',
    `${title}. ${source}${mark === 'remembered' ? ' (as remembered)' : ''}.`,
    '',
    '```',
    `mesura formula ${name} '${JSON.stringify(example.inputs)}'`,
    '```',
    '',
    '| | name | what | example |',
    '| --- | --- | --- | --- |',
    ...rows,
    '',
  ].join('\n');
};

/** One section a formula, by subject. */
export function formulasPage(): string {
  const subjects = [...new Set(formulas.map(({ subject }) => subject))];
  return [
    '# Formulas by themselves',
    '',
    "Every formula here can be called without a project: `mesura formula NAME '{…}'`. The numbers come from the functions that the program itself computes with; the examples were computed by a second program. Made by `npm run generate`.",
    '',
    ...subjects.flatMap((subject) => [
      `## ${subject}`,
      '',
      ...formulas.filter((each) => each.subject === subject).map(section),
    ]),
  ].join('\n');
}
