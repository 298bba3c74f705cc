/** Worked examples: scripts to begin with. Tests run them on the demonstration project; the documents show them as they stand here. */
export interface ScriptExample {
  readonly name: string;
  readonly text: string;
}

const levels = `// Fault levels of all 11 kV busbars over ten states, into a workbook.
const buses = project.elements('bus').filter((bus) => bus.nominalKv === 11);
const outages = project.elements('transformer').map((transformer) => transformer.name);
const conditions = project.conditions();
const states = [
  ...conditions.map(({ id, name }) => ({ label: name, options: { condition: [id] } })),
  ...outages.map((name) => ({ label: \`without \${name}\`, options: { condition: ['maximum'], outage: [name] } })),
].slice(0, 10);

const rows: Record<string, string | number>[] = buses.map((bus) => ({ busbar: bus.name }));
states.forEach(({ label, options }, k) => {
  const found = project.table('faults', { at: buses.map((bus) => bus.id), kind: '3ph', duration: 1, ...options });
  for (const row of rows) {
    const fault = found.find((each) => each.place === row.busbar);
    // Without supply there is no current.
    row[\`\${label}, Ik" kA\`] = Number(fault?.ik_A ?? 0) / 1000;
  }
  progress((k + 1) / states.length);
});
for (const row of rows) {
  const currents = Object.values(row).filter((value) => typeof value === 'number' && value > 0) as number[];
  row['most kA'] = Math.max(...currents);
  row['least kA'] = Math.min(...currents);
}
table(rows, 'Three-phase fault currents at 11 kV');
files.workbook('fault-levels.xlsx', [{ name: 'Ik 11 kV', rows }]);
`;

const resistance = `// How the current of an earth fault falls with the resistance at the fault.
const place = 'BRA 11 A';
const points: [number, number][] = [];
const steps = 26;
for (let k = 0; k < steps; k++) {
  const ohms = 2 * k;
  // The resistance stands between the faulted phase and earth.
  const [row] = project.table('faults', { at: [place], kind: '1ph', earthR: ohms });
  points.push([ohms, Number(row.ik_A)]);
  progress((k + 1) / steps);
}
plot({ title: \`Earth fault at \${place}\`, x: 'Resistance in ohms', y: 'Current in A', series: [{ name: '1ph', points }] });
const [solid] = points;
const half = points.find(([, ampere]) => ampere < solid[1] / 2);
print(\`Solid: \${solid[1].toFixed(0)} A; half of it from \${half ? half[0] : 'more than 50'} ohms on.\`);
files.csv('resistance.csv', points.map(([ohms, amperes]) => ({ ohms, amperes })));
`;

const settings = `// Settings of all devices of a station, as one table.
const station = 'BRA';
const { sheets } = project.study('sheet');
const devices = sheets.filter((sheet) => sheet.station === station && sheet.kind === 'device');
const rows = devices.flatMap((device, k) => {
  progress(k / devices.length);
  return project.table('sheet', { device: device.id }).map((row) => ({
    device: device.name,
    function: row.function,
    setting: row.setting,
    value: row.value,
    unit: row.unit,
    primary: row.primary,
    'primary in': row.primary_unit,
    origin: row.origin,
  }));
});
table(rows, \`Settings of \${station}\`);
print(\`\${devices.length} devices, \${rows.length} settings\`);
files.workbook(\`settings-\${station}.xlsx\`, [{ name: station, rows }]);
`;

export const scriptExamples: readonly ScriptExample[] = [
  { name: 'Fault levels over ten states', text: levels },
  { name: 'Fault resistance', text: resistance },
  { name: 'Settings of a station', text: settings },
];
