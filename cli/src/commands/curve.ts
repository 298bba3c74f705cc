/** `mesura curve`: the time–current curve of a device as points. */
import { curvePoints, curvesOf, quantityOfMode, type Edge } from '@mesura/core/protection/curve';
import { deviceFrom, devicesOf } from '@mesura/core/protection/device';
import { networkFor, plainFormat, type Command } from '../command';
import { numberOf, oneOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Point {
  readonly currentA: number;
  readonly edge: Edge;
  readonly timeS: number;
}

const columns: Column<Point>[] = [
  { head: 'A', name: 'current_a', value: ({ currentA }) => currentA },
  { head: 'edge', name: 'edge', value: ({ edge }) => edge },
  { head: 's', name: 'time_s', value: ({ timeS }) => timeS },
];

export const curveCommand: Command = {
  name: 'curve',
  takes: 'FILE',
  summary: studySummaries.curve,
  /** In primary amperes at the device. Refusals: no device, or one without a curve of that quantity. */
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'curve');
    const all = devicesOf(network);
    const device = all.find(({ id, name }) => id === values.device || name === values.device);
    if (!device)
      throw new Refusal(
        values.device === undefined ? 2 : 1,
        `${values.device === undefined ? 'curve needs --device NAME' : `no device is called "${values.device}"`}; there are: ${all.map(({ name }) => name).join(', ')}`,
      );
    const mode = oneOf('--faults', values.faults ?? 'phase', ['phase', 'earth', 'negative']);
    const toA = numberOf('--to', values.to ?? '20000', 1);
    const curves = curvesOf(deviceFrom(network, device.element)!);
    // What holds all it does in its band has no time in the middle.
    const edges = (['earliest', 'nominal', 'latest'] as const).filter(
      (edge) => edge !== 'nominal' || curves.functions.some(({ accuracy }) => accuracy !== null),
    );
    const points = edges.flatMap((edge) =>
      curvePoints(curves, quantityOfMode[mode], toA, 20, edge).map((point): Point => ({ ...point, edge })),
    );
    if (points.length === 0) throw new Refusal(1, `${device.name} has no curve for ${mode} faults up to ${toA} A`);
    const remembered = [...new Set(curves.functions.flatMap((fn) => fn.remembered ?? []))];
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'curve', device: { id: device.id, name: device.name }, faults: mode, remembered, points }, null, 2)}\n`
        : tableOf(columns, points, format);
    const errors = format === 'table' && remembered.length > 0 ? `${remembered.join('; ')}\n` : '';
    return { code: 0, output, errors };
  },
};
