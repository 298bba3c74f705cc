/** `mesura formula`: every published formula by itself, with plain numbers. */
import { answered, inputsOf, type Outcome as Figure, type PublicFormula } from '@mesura/core/formulary/formula';
import { formulaNamed, formulas } from '@mesura/core/formulary/index';
import { lettersApart } from '@mesura/core/formulas/near';
import { done, plainFormat, type Call, type Command, type Outcome } from '../command';
import { Refusal } from '../options';
import { tableOf, type Cell, type Column } from '../output';

export const formulaCommand: Command = {
  name: 'formula',
  takes: "[NAME ['{…}']]",
  summary: 'published formulas by themselves: the list, what one takes, its result',
  run,
};

function run({ paths: [name, inputs, ...more], values }: Call): Outcome {
  const format = plainFormat(values);
  if (more.length > 0) throw new Refusal(2, "formula takes a name and its inputs as one word: formula NAME '{…}'");
  if (name === undefined) return done(listOf(format));
  const formula = formulaNamed(name);
  if (!formula) throw new Refusal(1, unknown(name));
  return inputs === undefined ? done(describedIn(formula, format)) : computed(formula, inputs, format);
}

function unknown(name: string): string {
  const near = [...formulas].sort((p, q) => lettersApart(p.name, name) - lettersApart(q.name, name))[0].name;
  return `there is no formula "${name}"; ${near} is meant, perhaps. mesura formula lists them`;
}

const columns: Column<PublicFormula>[] = [
  { head: 'name', name: 'name', value: ({ name }) => name },
  { head: 'what', name: 'title', value: ({ title }) => title },
  {
    head: 'source',
    name: 'source',
    value: ({ source, mark }) => `${source}${mark === 'remembered' ? ' (as remembered)' : ''}`,
  },
];

const listOf = (format: 'table' | 'csv' | 'json'): string =>
  format === 'json'
    ? json({ command: 'formula', formulas: formulas.map(told) })
    : tableOf(columns, [...formulas], format);

const json = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

/** What a caller needs to know of it. */
function told(formula: PublicFormula) {
  const { name, subject, title, source, mark, outputs, example } = formula;
  return { name, subject, title, source, mark, inputs: inputsOf(formula), outputs, example };
}

interface PartRow {
  readonly kind: 'input' | 'output';
  readonly name: string;
  readonly title: string;
  readonly unit: string;
  readonly example: Cell;
}

const partColumns: Column<PartRow>[] = [
  { head: '', name: 'kind', value: ({ kind }) => kind },
  { head: 'name', name: 'name', value: ({ name }) => name },
  { head: 'what', name: 'title', value: ({ title }) => title },
  { head: 'unit', name: 'unit', value: ({ unit }) => unit },
  { head: 'example', name: 'example', value: ({ example }) => example },
];

function describedIn(formula: PublicFormula, format: 'table' | 'csv' | 'json'): string {
  if (format === 'json') return json({ command: 'formula', ...told(formula) });
  const { title, source, mark, outputs, example, name } = formula;
  const rows = [
    ...Object.entries(inputsOf(formula)).map(([key, each]): PartRow => ({
      kind: 'input',
      name: key,
      ...each,
      example: cellOf(example.inputs[key] as Figure),
    })),
    ...Object.entries(outputs).map(([key, each]): PartRow => ({
      kind: 'output',
      name: key,
      ...each,
      example: cellOf(example.outputs[key]),
    })),
  ];
  const table = tableOf(partColumns, rows, format);
  return format === 'csv'
    ? table
    : `${title}\n${source}${mark === 'remembered' ? ' (as remembered)' : ''}\n\n${table}\nmesura formula ${name} '${JSON.stringify(example.inputs)}'\n`;
}

const cellOf = (value: Figure | undefined): Cell =>
  typeof value === 'boolean' ? (value ? 'true' : 'false') : (value ?? '');

function computed(formula: PublicFormula, text: string, format: 'table' | 'csv' | 'json'): Outcome {
  let inputs: unknown;
  try {
    inputs = JSON.parse(text);
  } catch (error) {
    throw new Refusal(1, `the inputs are no JSON: ${(error as Error).message}`);
  }
  const result = answered(formula, inputs);
  if (!result.ok) throw new Refusal(1, result.problems.map(({ message }) => message).join('\n'));
  const { name, source, mark } = formula;
  if (format === 'json') return done(json({ command: 'formula', name, source, mark, inputs, outputs: result.outputs }));
  const rows = Object.entries(formula.outputs).map(([key, { title, unit }]) => ({
    name: key,
    title,
    unit,
    value: cellOf(result.outputs[key]),
  }));
  return done(
    tableOf<(typeof rows)[number]>(
      [
        { head: 'name', name: 'name', value: (row) => row.name },
        { head: 'what', name: 'title', value: (row) => row.title },
        { head: 'value', name: 'value', value: (row) => row.value },
        { head: 'unit', name: 'unit', value: (row) => row.unit },
      ],
      rows,
      format,
    ),
    mark === 'remembered' ? `note: ${source} as remembered\n` : '',
  );
}
