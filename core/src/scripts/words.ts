/** What a script can say, with its types and meanings: the editor completes by it, and the documents are made from it. */
export interface Word {
  readonly name: string;
  readonly signature: string;
  readonly means: string;
}

export const scriptWords: readonly Word[] = [
  { name: 'project.name', signature: 'string', means: 'Name of the project.' },
  {
    name: 'project.elements',
    signature: '(kind?: Kind) => Element[]',
    means: 'All elements, or those of a kind. They are copies: a change counts once it is handed to project.update.',
  },
  {
    name: 'project.element',
    signature: '(nameOrId: string) => Element | null',
    means: 'The element with this name or identifier.',
  },
  {
    name: 'project.conditions',
    signature: '() => { id: string; name: string }[]',
    means: 'All conditions, maximum and minimum sources first.',
  },
  {
    name: 'project.set',
    signature: '(field: string, value: string | number | boolean) => void',
    means: 'Sets a field, as in project.set("BRA T1.ukPercent", 10).',
  },
  { name: 'project.update', signature: '(element: Element) => void', means: 'Takes an element in its new state.' },
  {
    name: 'project.add',
    signature: '(element: Element) => void',
    means: 'Adds an element; its identifier must be new.',
  },
  { name: 'project.remove', signature: '(id: string) => void', means: 'Removes an element.' },
  {
    name: 'project.study',
    signature: '(name: Study, options?: object) => any',
    means:
      'A study of the project as it is at that moment. Names, options and the answer are those of the terminal with --format json.',
  },
  {
    name: 'project.table',
    signature: '(name: Study, options?: object) => Record<string, string | number | null>[]',
    means: 'The same as rows, by the columns of --format csv.',
  },
  {
    name: 'project.notes',
    signature: '() => string[]',
    means: 'What the last study remarked, such as data that was assumed.',
  },
  { name: 'print', signature: '(...values: unknown[]) => void', means: 'A line of text.' },
  {
    name: 'table',
    signature: '(rows: object[], title?: string) => void',
    means: 'A table: the columns are the names in the rows.',
  },
  {
    name: 'plot',
    signature:
      '(plot: { title?: string; x: string; y: string; logX?: boolean; logY?: boolean; series: { name: string; points: [number, number][] }[] }) => void',
    means: 'Lines over an axis.',
  },
  {
    name: 'files.text',
    signature: '(name: string, text: string) => void',
    means: 'A file of text. In the terminal it is written beside, on the desk it is offered.',
  },
  { name: 'files.csv', signature: '(name: string, rows: object[]) => void', means: 'The rows as CSV.' },
  {
    name: 'files.workbook',
    signature: '(name: string, sheets: { name: string; rows: object[] }[]) => void',
    means: 'A workbook (.xlsx) with a sheet for each list of rows.',
  },
  { name: 'progress', signature: '(share: number) => void', means: 'How far it is, from 0 to 1.' },
];
