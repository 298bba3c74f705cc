/** What can be written, by name alone: menus list it without loading what writes it. The registry has the same, in the same order. */
export const knownExporters = [
  { id: 'project', title: 'Project file', extension: 'json' },
  { id: 'tables', title: 'Tables of all elements', extension: 'xlsx' },
  { id: 'types', title: 'Types of the project', extension: 'xlsx' },
  { id: 'powerFlow', title: 'Solved power-flow case', extension: 'cdf' },
  { id: 'cim', title: 'CIM model', extension: 'zip' },
  { id: 'scl', title: 'SCL stations and relays', extension: 'scd' },
] as const;
