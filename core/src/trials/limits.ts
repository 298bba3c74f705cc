/** How long a fault may last, by the rulebook. */
import { settingsOf, type Network } from '../model/network';
import { bookOf, rulesFor, valueOf } from '../rules/book';

/** Where no rule says anything, in seconds. */
const withoutRuleS = 3600;

/** At a voltage in kV; the strictest rule counts. */
export function longestFaultS(network: Network, nominalKv: number, byBackup: boolean): number {
  const rules = rulesFor(bookOf(network), byBackup ? 'faultTimeBackup' : 'faultTime', new Set());
  const figures = { voltage: nominalKv * 1000, margin: settingsOf(network).wantedMarginS };
  return rules.reduce((least, { rule, formula }) => {
    const found = valueOf(rule, formula!, figures);
    return found.ok ? Math.min(least, found.value) : least;
  }, withoutRuleS);
}
