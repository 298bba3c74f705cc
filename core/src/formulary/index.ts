/** All formulas that can be called alone. A new one is an entry in the file of its subject. */
import { arcFormulas } from './arc';
import { directFormulas } from './direct';
import { earthFormulas } from './earth';
import { faultFormulas } from './faults';
import type { PublicFormula } from './formula';
import { lineFormulas } from './lines';
import { protectionFormulas } from './protection';
import { ratingFormulas } from './ratings';

export const formulas: readonly PublicFormula[] = [
  ...faultFormulas,
  ...protectionFormulas,
  ...ratingFormulas,
  ...lineFormulas,
  ...arcFormulas,
  ...earthFormulas,
  ...directFormulas,
];

export const formulaNamed = (name: string): PublicFormula | undefined => formulas.find((each) => each.name === name);
