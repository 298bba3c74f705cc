/** What happens in a trial, in words. */
import { nameIn, type Network } from '../model/network';
import { phaseNames } from '../faults/kinds';
import type { TrialEvent } from './event';
import type { Verdict } from './verdict';

export const verdictTitles: Readonly<Record<Verdict, string>> = {
  selective: 'selective',
  tooSlow: 'too slow',
  tooMuchLost: 'too much lost',
  wrongBreaker: 'wrong breaker',
  notCleared: 'not cleared',
  noCurrent: 'no fault current',
};

/** What a search can find. */
export const foundTitles: Readonly<Record<Exclude<Verdict, 'selective'> | 'remoteBackup', string>> = {
  ...verdictTitles,
  remoteBackup: 'remote backup only',
};

const short = (value: number): string => Number(value.toPrecision(3)).toString();

/** Who or what an event is about: a device, a breaker, or the fault. */
export function aboutOf(network: Network, { kind, device, element }: TrialEvent): string {
  if (kind === 'open' || kind === 'failToOpen' || kind === 'close' || kind === 'lockOut')
    return nameIn(network, element!);
  return device ? nameIn(network, device) : 'fault';
}

/** "51 picks up, 4.2 × pickup". */
export function eventText(network: Network, event: TrialEvent): string {
  const { kind, code = '', multiple, share, phases, device, signal } = event;
  const which = phases && phases.length < 3 ? ` ${phases.map((phase) => phaseNames[phase]).join(', ')}` : '';
  switch (kind) {
    case 'fault':
      return 'begins';
    case 'change':
      return 'becomes another one';
    case 'motors':
      return 'motors feed it no more';
    case 'decay':
      return 'generators feed it less';
    case 'extinguish':
      return 'has gone out';
    case 'gone':
      return 'no source feeds it any more';
    case 'again':
      return 'is fed again';
    case 'pickUp':
      return `${code} picks up, ${short(multiple ?? 0)} × pickup`;
    case 'dropOut':
      return share && share > 0.001 && share < 1
        ? `${code} drops out at ${Math.round(share * 100)} % of its time`
        : `${code} drops out`;
    case 'trip':
      return `${code} trips`;
    case 'melt':
      return `melts${which}, ${short(multiple ?? 0)} × its least melting current`;
    case 'open':
      return `opens${which}`;
    case 'failToOpen':
      return 'fails to open';
    case 'close':
      return `is closed again by ${nameIn(network, device!)}`;
    case 'lockOut':
      return `stays open: ${nameIn(network, device!)} locks out`;
    case 'ready':
      return 'is ready again';
    case 'send':
      return `sends its signal, ${signal}`;
    case 'receive':
      return `receives the signal, ${signal}`;
  }
}

/** Why it happened: what was before it in the list. */
export function becauseText(network: Network, events: readonly TrialEvent[], { because }: TrialEvent): string {
  const cause = because === null ? undefined : events[because];
  return cause ? `${aboutOf(network, cause)}: ${eventText(network, cause)}` : '';
}
