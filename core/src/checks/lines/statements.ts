/** Statements of line packages that somebody has agreed to: they hold, and their figures have not moved since. */
import type { LinePackage } from '../../model/linePackage';
import { ofKind, settingsOf } from '../../model/network';
import { packageBasis, packageResult, type Statement } from '../../linePackage/package';
import { bookOf } from '../../rules/book';
import { finished } from '../../working/steps';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';

export const statementsRule = checkRule<LinePackage>({
  id: 'lines.statements',
  title: 'Agreed statements of line packages',
  advice: {
    'package.statement': 'Open the package: put the value right, or take what the rules propose now.',
    'package.moved': 'Open the package and look at the statement anew: agree again, or change the value.',
  },
  subjects: ({ network }) =>
    ofKind(network, 'linePackage')
      .filter(({ agreed }) => agreed.length > 0)
      .map((value) => ({
        key: value.id,
        value,
        // Zones of the relays around bound those of this line.
        on: [value, settingsOf(network), bookOf(network), ...ofKind(network, 'relay')],
      })),
  test: ({ studies }, pack, trace) => {
    const basis = finished(packageBasis(studies, pack));
    const { statements, gone } = packageResult(studies, pack, basis);
    const stationOf = ({ end }: Statement) =>
      basis.ends.find(({ row }) => row.end.line === end.line && row.end.terminal === end.terminal)!.row.stationName;
    const common = (statement: string, line: string, terminal: number) => ({
      id: `package ${pack.id} ${line}:${terminal} ${statement}`,
      rule: 'lines.statements',
      subject: pack.line,
      deciding: null,
    });
    return [
      ...statements.flatMap((each): Check[] => {
        const { state, agreed, end, id, title, value, bound, unit, sense, holds } = each;
        if (state === 'open' || !agreed) return [];
        const where = `${pack.name}, ${stationOf(each)}`;
        trace.section(`${where}: ${title}`, pack.id);
        trace.step(
          'margin',
          formula`${quantityOf('value', value, unit)} - ${quantityOf('bound', bound, unit)}`,
          value - bound,
          unit,
        );
        const isMoved = state === 'moved';
        return [
          {
            ...common(id, end.line, end.terminal),
            code: holds ? 'package.moved' : 'package.statement',
            title: `${stationOf(each)}: ${title}`,
            value,
            bound,
            unit,
            sense,
            verdict: !holds ? 'short' : isMoved ? 'doubtful' : 'holds',
            severity: holds ? 'warning' : 'error',
            message: `${where}: ${title}, ${digits(value)} ${unit} against ${digits(bound)} ${unit}${
              isMoved ? `; agreed on ${agreed.on} at ${digits(agreed.value)} against ${digits(agreed.bound)}` : ''
            }`,
          },
        ];
      }),
      ...gone.map(({ statement, line, terminal, on }): Check => ({
        ...common(statement, line, terminal),
        code: 'package.moved',
        title: `${statement} is no statement any more`,
        value: null,
        bound: null,
        unit: '',
        sense: 'atLeast',
        verdict: 'doubtful',
        severity: 'warning',
        message: `${pack.name}: ${statement}, agreed on ${on}, is no statement any more`,
      })),
    ];
  },
});
