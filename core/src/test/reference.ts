/** The published cases, read as they stand. */
import faults from '../../reference/iec60909.json';
import protection from '../../reference/protection.json';

export const faultCase = <T>(id: string): T => faults.cases.find((each) => each.id === id) as T;

export interface ProtectionCase {
  id: string;
  calc: string;
  inputs: Record<string, number>;
  expected: number;
  tolerance: { abs?: number; rel?: number };
  source: string;
  status: string;
}

export const protectionCases = (calc: string): ProtectionCase[] =>
  (protection.cases as unknown as ProtectionCase[]).filter((each) => each.calc === calc);
