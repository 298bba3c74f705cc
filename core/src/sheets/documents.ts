/** What is issued besides the sheets of devices: line packages and arc labels, as reports in the state in which they are signed. */
import { ArcKeeper } from '../arc/study';
import { arcLabel } from '../arc/labels';
import { arcLines, arcTable, clearedBy, lineWorking } from '../arc/table';
import type { LinePackage } from '../model/linePackage';
import { find, nameIn, settingsOf } from '../model/network';
import { stationOf } from '../model/stations';
import { packageReport } from '../reports/linePackage';
import type { Report } from '../reports/report';
import type { Studies } from '../studies/studies';
import { sheetForm, type DocumentContent } from './content';
import { rounded } from './rounded';

/** Yields the share that is done; null where the package is gone. */
export function* packageContent(studies: Studies, id: string): Generator<number, DocumentContent | null> {
  const pack = find(studies.network, 'linePackage', id as LinePackage['id']);
  if (!pack) return null;
  const { network } = studies;
  const line = find(network, 'line', pack.line);
  const report = yield* packageReport(studies, pack, '');
  return rounded({
    form: sheetForm,
    subject: 'linePackage',
    id,
    name: pack.name,
    station: line ? nameIn(network, line.id) : '',
    owner: settingsOf(network).owner,
    report: withoutDate(report),
  });
}

/** The day stands in the title block: a package of tomorrow that says the same is the same. */
const withoutDate = (report: Report): Report => ({
  ...report,
  title: report.title.replace(/, *$/, ''),
  sections: report.sections.map((section) =>
    section.facts ? { ...section, facts: section.facts.filter(([name]) => name !== 'Date') } : section,
  ),
});

/** `key`: of the place. Null where it is gone, or nothing feeds an arc there. */
export function* arcContent(
  studies: Studies,
  key: string,
  keeper = new ArcKeeper(),
): Generator<number, DocumentContent | null> {
  const { whole: network, conditions } = studies;
  const lines = arcLines(
    network,
    yield* arcTable(studies, conditions, { compare: false, only: null, maintenance: false }, keeper),
  );
  const line = lines.find((each) => each.key === key);
  const label = line && arcLabel(network, line, 'en');
  if (!line?.worst || !label) return null;
  const { worst } = line;
  return rounded({
    form: sheetForm,
    subject: 'arcLabel',
    id: key,
    name: line.name,
    station: stationOf(network, line.bus)?.name ?? '',
    owner: settingsOf(network).owner,
    label,
    report: {
      title: `Arc label ${line.name}`,
      owner: settingsOf(network).owner,
      sections: [
        {
          title: 'Label',
          facts: [['Signal word', label.signal], ...label.facts],
          text: [...label.notes],
        },
        {
          title: 'Figures',
          table: {
            columns: [
              { head: 'Condition', wide: 2 },
              { head: 'Ibf kA', figure: true },
              { head: 'Iarc kA', figure: true },
              { head: 't s', figure: true },
              { head: 'Boundary mm', figure: true },
              { head: 'cal/cm²', figure: true },
            ],
            rows: line.all.map((each) => ({
              cells: [each.conditionName, each.boltedKa, each.arcingKa, each.burnsS, each.boundaryMm, each.cal],
            })),
          },
          text: [`Decides: ${worst.conditionName}; cleared by ${clearedBy(line)}.`],
          workings: [{ title: `${line.name}, ${worst.conditionName}`, sections: [...lineWorking(network, line)] }],
        },
      ],
    },
  });
}
