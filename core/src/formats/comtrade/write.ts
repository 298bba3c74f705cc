/** Records of currents for relay test sets and viewers: COMTRADE, 1999 form, ASCII data (IEEE C37.111-1999, clauses 5 and 6). */

export interface RecordedChannel {
  readonly name: string;
  /** "A", "B", "C" or empty. */
  readonly phase: string;
  readonly unit: string;
  /** One value a sample. */
  readonly values: readonly number[];
}

/** What is on or off: a pickup, a trip, a breaker. */
export interface RecordedState {
  readonly name: string;
  /** Nought or one for each sample. */
  readonly values: ArrayLike<number>;
}

export interface Recorded {
  readonly station: string;
  readonly device: string;
  readonly frequencyHz: number;
  /** Samples a second. */
  readonly rateHz: number;
  /** Sample at which the fault begins. */
  readonly triggerSample: number;
  readonly channels: readonly RecordedChannel[];
  readonly states?: readonly RecordedState[];
}

/** Data values of the ASCII form. */
const largest = 99998;
/** Digits that neither a comma nor a line end may break. */
const plain = (text: string, most: number): string =>
  text
    .replace(/[^\x20-\x7e]/g, '?')
    .replaceAll(',', ';')
    .slice(0, most);

/** Where nobody knows when it was recorded: a date as good as any, the same for every export. */
const when = '01/01/2000,00:00:00.000000';

/** The configuration and the data file; lines end as the standard asks, with CR and LF. */
export function comtrade({ station, device, frequencyHz, rateHz, triggerSample, channels, states = [] }: Recorded): {
  readonly cfg: string;
  readonly dat: string;
} {
  const count = channels[0]?.values.length ?? 0;
  const scaled = channels.map(({ values }) => {
    const most = values.reduce((size, value) => Math.max(size, Math.abs(value)), 0);
    // Of next to nothing no factor is left.
    const factor = most / largest || 1;
    return { factor, integers: values.map((value) => Math.round(value / factor)) };
  });
  const analog = channels.map(({ name, phase, unit }, k) => {
    const { factor } = scaled[k];
    return [
      k + 1,
      plain(name, 64),
      phase,
      '',
      unit,
      factor.toPrecision(9),
      0,
      0,
      -largest - 1,
      largest,
      1,
      1,
      'P',
    ].join(',');
  });
  const digital = states.map(({ name }, k) => [k + 1, plain(name, 64), '', '', 0].join(','));
  const trigger = `01/01/2000,${clock(triggerSample / rateHz)}`;
  const cfg = [
    `${plain(station, 64)},${plain(device, 64)},1999`,
    `${channels.length + states.length},${channels.length}A,${states.length}D`,
    ...analog,
    ...digital,
    String(frequencyHz),
    '1',
    `${rateHz},${count}`,
    when,
    trigger,
    'ASCII',
    '1',
  ];
  const dat = Array.from({ length: count }, (_, j) =>
    [
      j + 1,
      Math.round((1e6 * j) / rateHz),
      ...scaled.map(({ integers }) => integers[j]),
      ...states.map(({ values }) => values[j]),
    ].join(','),
  );
  return { cfg: `${cfg.join('\r\n')}\r\n`, dat: `${dat.join('\r\n')}\r\n` };
}

const clock = (seconds: number): string => `00:00:${seconds.toFixed(6).padStart(9, '0')}`;
