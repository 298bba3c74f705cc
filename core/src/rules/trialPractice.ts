/** How long a fault may last, as trials judge it: by the protection meant for it, and by whatever clears it when something has failed. */
import type { Rule } from '../model/rulebook';
import { rule } from './practice';

export const trialPractice: readonly Rule[] = [
  rule({
    id: 'fault-lasts',
    title: 'Longest fault',
    subject: 'faultTime',
    bound: 'delay',
    sense: 'atMost',
    formula: 'voltage > 100 kV ? 0.5 s : voltage > 1 kV ? 1.5 s : 5 s',
    reason:
      'Above 100 kV generators stay in step and zone 2 has its time; below it is what switchgear and cables bear.',
    importance: 2,
  }),
  rule({
    id: 'fault-lasts-backup',
    title: 'Longest fault, by backup',
    subject: 'faultTimeBackup',
    bound: 'delay',
    sense: 'atMost',
    formula: 'voltage > 100 kV ? 1.2 s : voltage > 1 kV ? 3 s : 5 s',
    reason: 'With a breaker or a relay that fails, it is the short-time withstand of equipment that ends it.',
    importance: 3,
  }),
];
